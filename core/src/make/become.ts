/** What several parts of a source become, in words: tips of their own, or frames of one. */
export const BECOME_WORDS = { tips: 'a tip each', frames: 'frames of one' } as const
/** Layers may become strips as well, each of a ribbon brush of its own. */
export const LAYERS_BECOME_WORDS = { ...BECOME_WORDS, strips: 'a strip each' } as const
