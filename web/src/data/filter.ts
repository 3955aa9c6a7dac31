/** What a list of brushes is narrowed by. */
export type Filter = {
  setId?: string
  q?: string
  tag?: string
  reading?: string
  frames?: string
  sizeFrom?: string
  sizeTo?: string
  maker?: string
  bin?: string
  loose?: string
}

/** In which order a list of brushes comes. */
export type Sort = 'name' | 'set' | 'newest' | 'size'
