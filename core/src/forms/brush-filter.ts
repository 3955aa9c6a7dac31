import * as v from 'valibot'
import { FOUND_PARTS } from '../brush/parts.ts'
import { PAINT_READINGS } from '../brush/recipe.ts'
import { NAME_MAX_CHARS } from '../limits.ts'
import { BRUSH_IS_NAMES, type BrushFilterKey, FILTER_KEYS, PLACE_KEYS, SEARCH_MAX_CHARS } from './brush-filter-words.ts'

const Text = v.pipe(v.string(), v.maxLength(NAME_MAX_CHARS))
const Amount = v.pipe(v.string(), v.transform(Number), v.number(), v.finite(), v.minValue(0))
const Share = v.pipe(Amount, v.maxValue(100))
const Flag = v.pipe(
  v.literal('1'),
  v.transform(() => true),
)
/** Names with commas between, each once, in the order of the table. */
const Is = v.pipe(
  v.string(),
  v.maxLength(SEARCH_MAX_CHARS),
  v.transform((text) => text.split(',')),
  v.array(v.picklist(BRUSH_IS_NAMES)),
  v.transform((names) => BRUSH_IS_NAMES.filter((name) => names.includes(name))),
)

/** All of them may be chosen. */
const USES_MAX_CHARS = FOUND_PARTS.join().length
/** Names of parts of the recipe, likewise. */
const Uses = v.pipe(
  v.string(),
  v.maxLength(USES_MAX_CHARS),
  v.transform((text) => text.split(',')),
  v.array(v.picklist(FOUND_PARTS)),
  v.transform((names) => FOUND_PARTS.filter((name) => names.includes(name))),
)

/** What a list of brushes is narrowed by, as it stands in an address: every part is text, and may be absent. */
const ENTRIES = {
  setId: v.optional(v.pipe(v.string(), v.uuid())),
  /** A set that holds sets: what is in any of them. */
  inFolder: v.optional(Text),
  q: v.optional(v.pipe(v.string(), v.maxLength(SEARCH_MAX_CHARS))),
  tag: v.optional(Text),
  reading: v.optional(v.picklist(PAINT_READINGS)),
  frames: v.optional(v.picklist(['one', 'many'])),
  sizeFrom: v.optional(Amount),
  sizeTo: v.optional(Amount),
  maker: v.optional(Text),
  is: v.optional(Is),
  /** Parts of the recipe that a brush uses, all of them. */
  uses: v.optional(Uses),
  /** The source that it was made of. */
  sourceId: v.optional(v.pipe(v.string(), v.uuid())),
  /** How like itself it paints at a destination, 0 to 100. */
  fitAt: v.optional(Text),
  fitFrom: v.optional(Share),
  fitTo: v.optional(Share),
  bin: v.optional(Flag),
  loose: v.optional(Flag),
} satisfies Record<BrushFilterKey, v.GenericSchema>
export const BrushFilterText = v.object(ENTRIES)
/** What it is narrowed by, read. */
export type BrushFilter = v.InferOutput<typeof BrushFilterText>

/** A search as it is kept: what stands in its address, without a place in the rack or the bin. */
export const KeptFilter = v.pipe(
  v.record(v.string(), v.pipe(v.string(), v.maxLength(Math.max(SEARCH_MAX_CHARS, USES_MAX_CHARS)))),
  v.check((filter) => v.is(BrushFilterText, filter), 'this is no search of brushes'),
  v.check(
    (filter) => Object.keys(filter).every((key) => FILTER_KEYS.includes(key as BrushFilterKey)),
    'this is no search of brushes',
  ),
  v.check((filter) => PLACE_KEYS.every((key) => !filter[key]), 'a set, or the bin, is no search; search all brushes'),
  v.check((filter) => Object.keys(filter).length > 0, 'all brushes are no search; look for something first'),
)
export type KeptFilter = v.InferOutput<typeof KeptFilter>
