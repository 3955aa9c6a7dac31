/** What a list of brushes is narrowed by: the words of its address. Their schema is in `brush-filter.ts`. */
export const FILTER_KEYS = [
  ...(['setId', 'inFolder', 'q', 'tag', 'reading', 'frames', 'sizeFrom', 'sizeTo', 'maker'] as const),
  ...(['is', 'uses', 'sourceId', 'fitAt', 'fitFrom', 'fitTo', 'bin', 'loose'] as const),
]
export type BrushFilterKey = (typeof FILTER_KEYS)[number]
/** Those that are a place of the rack: a search narrows what lies there. */
export const PLACE_KEYS = ['setId', 'inFolder', 'bin', 'loose'] as const satisfies readonly BrushFilterKey[]

export const BRUSH_SORTS = ['name', 'newest', 'size', 'set', 'darkness', 'width', 'roughness'] as const
export type BrushSort = (typeof BRUSH_SORTS)[number]
/** Those that go by what was measured of the rendered stroke. */
export const LOOK_SORTS = ['darkness', 'width', 'roughness'] as const satisfies readonly BrushSort[]
export const isLookSort = (sort: BrushSort): sort is (typeof LOOK_SORTS)[number] =>
  LOOK_SORTS.some((look) => look === sort)

/** What a brush can be besides what has a control of its own, a row each: what it is called where it is chosen. */
export const BRUSH_IS = {
  grain: 'with a grain',
  plain: 'without a grain',
  ribbon: 'laid along the path',
  erases: 'takes paint away',
  smears: 'smears what is there',
  made: 'made of a source here',
  taken: "from somebody's pack",
  unpacked: 'in no pack',
  unused: 'used nowhere',
  changed: 'changed since its release',
} as const satisfies Record<string, string>
export type BrushIs = keyof typeof BRUSH_IS
export const BRUSH_IS_NAMES = Object.keys(BRUSH_IS) as [BrushIs, ...BrushIs[]]

export const SEARCH_MAX_CHARS = 200
