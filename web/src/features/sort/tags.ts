/** Tags as they are typed: several with commas between, each once. */
export const toTags = (text: string): string[] => [
  ...new Set(
    text
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean),
  ),
]
