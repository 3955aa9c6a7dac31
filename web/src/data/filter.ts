import type { BrushFilterKey, BrushSort } from '@satchel/core/forms/brush-filter-words'

/** What a list of brushes is narrowed by, as it stands in an address. */
export type Filter = { [Key in BrushFilterKey]?: string }

/** In which order a list of brushes comes. */
export type Sort = BrushSort
