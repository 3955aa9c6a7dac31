import { READING_WORDS } from '@satchel/core/brush/recipe-words'

/** What lists call a reading; one that is newer than this page is called as the server calls it. */
export const readingWord = (reading: string): string => (READING_WORDS as Record<string, string>)[reading] ?? reading
