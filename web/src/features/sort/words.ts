/** The interface's words for what the recipe calls by short names. */
export const READING_WORD: Record<string, string> = {
  dark: 'dark paints',
  light: 'light paints',
  alpha: 'alpha paints',
  own: 'own colours',
  tone: 'tone',
}
