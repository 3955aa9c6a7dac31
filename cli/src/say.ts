/**
 * What a terminal would take for more than a letter: control characters, also those of the upper half, ends of lines and
 * paragraphs, and marks that turn the direction of writing about or are not seen (Unicode's Cc, Zl, Zp, and of Cf the ones
 * without a shape). Names come out of files that somebody else made.
 */
const NO_LETTER = /[\p{Cc}\p{Zl}\p{Zp}\p{Cf}\p{Cs}]/gu

/** A character as JSON and JavaScript write it: seen, and told apart from a letter. */
const escaped = (sign: string): string =>
  [...Array(sign.length).keys()].map((i) => `\\u${sign.charCodeAt(i).toString(16).padStart(4, '0')}`).join('')

/** A text as it may be printed on one line. */
export const shown = (text: string): string => text.replace(NO_LETTER, escaped)

/** Prints a line. Whatever is in it, it is one line and stays text. */
export const say = (line: string): void => console.log(shown(line))

/** Prints a line on standard error. */
export const warn = (line: string): void => console.error(shown(line))

/** Prints a value as JSON over several lines; the same value reads back. */
export const sayJson = (value: unknown): void =>
  console.log(
    JSON.stringify(value, null, 2)
      .split('\n')
      .map((line) => line.replace(NO_LETTER, escaped))
      .join('\n'),
  )
