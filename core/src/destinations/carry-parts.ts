import * as v from 'valibot'
import type { PartName, RecipeGroup } from '../brush/parts.ts'
import { ANGLE_MODES, FRAME_RULES, PAINT_READINGS, type Recipe } from '../brush/recipe.ts'
import { BLEND_MODES } from '../raster/blend.ts'

/** What a destination says of a part: that it knows it or not, from where to where, or which kinds of it. */
export type Knowledge = boolean | { from: number; to: number } | readonly string[]

/** A value as it arrives, and how it differs from what it was; without a value the part is left behind. */
export type Narrowed<Value> = { value?: Value; how?: string }

/** How a part of the recipe comes over. */
export type CarryRow<Value = unknown> = {
  /** How it is said: yes or no, from where to where, or which of some kinds. */
  asked: 'flag' | 'range' | readonly string[]
  /** What may be said of it. */
  said: v.GenericSchema<unknown, Knowledge>
  /** What is painted with where the part is not known; undefined takes the part away. */
  plain: Value | undefined
  /** Brings a value within what is known; never called where nothing is. */
  narrow(value: Value, said: Exclude<Knowledge, boolean>): Narrowed<Value>
}

type Groups = Omit<Recipe, 'version'>
type RowsOf<Group> = { readonly [Part in keyof Group]-?: CarryRow<Exclude<Group[Part], undefined>> }

const RangeSaid = v.union([
  v.boolean(),
  v.pipe(
    v.strictObject({ from: v.number(), to: v.number() }),
    v.check(({ from, to }) => from <= to, 'from where to where, in this order'),
  ),
])

const isRange = (said: Knowledge): said is { from: number; to: number } => typeof said === 'object' && 'from' in said

/** A number: what lies outside is brought to the nearest that is known. */
const range = (plain: number, unit: string): CarryRow<number> => ({
  asked: 'range',
  said: RangeSaid,
  plain,
  narrow(value, said) {
    if (!isRange(said)) return { value }
    const bound = Math.min(said.to, Math.max(said.from, value))
    return bound === value ? { value } : { value: bound, how: `${short(value)}${unit} becomes ${short(bound)}${unit}` }
  },
})

/** Known or not. */
const flag = <Value>(plain: Value | undefined): CarryRow<Value> => ({
  asked: 'flag',
  said: v.boolean(),
  plain,
  narrow: (value) => ({ value }),
})

const kindsOf = (kinds: readonly string[]) => v.union([v.boolean(), v.array(v.picklist(kinds))])
const isKnown = (said: Exclude<Knowledge, boolean>, kind: string) => !isRange(said) && said.includes(kind)

/** One of several kinds: another one is left behind. */
const kinds = <Kind extends string>(all: readonly Kind[], plain: Kind): CarryRow<Kind> => ({
  asked: all,
  said: kindsOf(all),
  plain,
  narrow: (value, said) => (isKnown(said, value) ? { value } : {}),
})

const CURVES = ['size', 'opacity', 'flow', 'angle', 'frame'] as const

/** Curves by what they move: those that are not known go. */
const curves = (): CarryRow<Recipe['hand']['pressure']> => ({
  asked: CURVES,
  said: kindsOf(CURVES),
  plain: {},
  narrow(value, said) {
    const all = Object.entries(value).filter(([, curve]) => curve !== undefined)
    const known = all.filter(([kind]) => isKnown(said, kind))
    const gone = all.filter(([kind]) => !isKnown(said, kind)).map(([kind]) => kind)
    if (gone.length === 0) return { value }
    if (known.length === 0) return {}
    return { value: Object.fromEntries(known), how: `what it does to ${gone.join(' and ')} is left behind` }
  },
})

const SCATTER_WAYS = ['across', 'along'] as const
const GRAIN_ANCHORS = ['canvas', 'stroke', 'stamp'] as const
const RIBBON_LAYS = ['stretched', 'repeated'] as const

/** Every part of the recipe, one row each: one that says nothing of how it comes over does not compile. */
export const CARRY_PARTS: { readonly [Group in RecipeGroup]: RowsOf<Groups[Group]> } = {
  mark: {
    sizePx: range(64, ' px'),
    angle: {
      asked: ANGLE_MODES,
      said: kindsOf(ANGLE_MODES),
      plain: { mode: 'fixed', deg: 0 },
      narrow: (value, said) => (isKnown(said, value.mode) ? { value } : {}),
    },
    squash: range(1, ''),
  },
  path: {
    spacingPct: range(25, ' %'),
    scatter: {
      asked: SCATTER_WAYS,
      said: kindsOf(SCATTER_WAYS),
      plain: { acrossPct: 0, alongPct: 0 },
      narrow(value, said) {
        const kept = {
          acrossPct: isKnown(said, 'across') ? value.acrossPct : 0,
          alongPct: isKnown(said, 'along') ? value.alongPct : 0,
        }
        if (kept.acrossPct === value.acrossPct && kept.alongPct === value.alongPct) return { value }
        if (kept.acrossPct === 0 && kept.alongPct === 0) return {}
        return { value: kept, how: kept.alongPct === 0 ? 'only across the path' : 'only along the path' }
      },
    },
    count: range(1, ''),
    nextFrame: {
      asked: FRAME_RULES,
      said: kindsOf(FRAME_RULES),
      plain: undefined,
      narrow(value, said) {
        if (value.every(({ rule, frames }) => frames === 1 || isKnown(said, rule))) return { value }
        const frames = value.reduce((all, each) => all * each.frames, 1)
        const known = value.find(({ rule, frames }) => frames > 1 && isKnown(said, rule))?.rule
        const rule = known ?? FRAME_RULES.find((each) => isKnown(said, each))
        return rule ? { value: [{ rule, frames }], how: 'another rule picks the next frame' } : {}
      },
    },
    taper: flag({ startPx: 0, endPx: 0, size: 0, opacity: 0 }),
    ribbon: {
      asked: RIBBON_LAYS,
      said: kindsOf(RIBBON_LAYS),
      plain: undefined,
      narrow(value, said) {
        if (isKnown(said, value.lay)) return { value }
        const lay = RIBBON_LAYS.find((each) => isKnown(said, each))
        return lay ? { value: { ...value, lay }, how: `it is ${lay}, not ${value.lay}` } : {}
      },
    },
  },
  variation: {
    size: flag(0), angle: flag(0), squash: flag(0), opacity: flag(0), flow: flag(0), hue: flag(0), saturation: flag(0), value: flag(0),
  }, // biome-ignore format: one line a group
  hand: { pressure: curves(), tilt: curves(), speed: curves() },
  ground: {
    grain: {
      asked: GRAIN_ANCHORS,
      said: kindsOf(GRAIN_ANCHORS),
      plain: undefined,
      narrow(value, said) {
        if (isKnown(said, value.anchor)) return { value }
        const anchor = GRAIN_ANCHORS.find((each) => isKnown(said, each))
        return anchor
          ? { value: { ...value, anchor }, how: `it lies on the ${anchor}, not on the ${value.anchor}` }
          : {}
      },
    },
  },
  colour: {
    // the pictures are read as the destination reads them before anything else, so what is asked here is known
    reading: kinds(PAINT_READINGS, 'dark'),
    anchorGrey: flag(0.5),
    opacity: range(1, ''),
    flow: range(1, ''),
    blend: kinds(BLEND_MODES, 'normal'),
    behaviour: kinds(['paint', 'erase', 'smear'], 'paint'),
  },
}

const rowsOf = (group: RecipeGroup) => CARRY_PARTS[group] as Record<string, CarryRow>

/** Every part by its whole name, in the order of the table. */
export const CARRY_ROWS: readonly { name: PartName; group: RecipeGroup; key: string; row: CarryRow }[] = (
  Object.keys(CARRY_PARTS) as RecipeGroup[]
).flatMap((group) =>
  Object.entries(rowsOf(group)).map(([key, row]) => ({ name: `${group}.${key}` as PartName, group, key, row })),
)

const short = (value: number) => String(Number(value.toFixed(2)))
