import * as v from 'valibot'
import { PART_NAMES, type PartName, RECIPE_PARTS, type RecipePart } from '../brush/parts.ts'
import { PAINT_READINGS, type Recipe } from '../brush/recipe.ts'
import { NUMBER_NAMES, type NumberName, numberOf, RECIPE_NUMBERS, withNumber } from '../brush/recipe-numbers.ts'
import { READING_WORDS } from '../brush/recipe-words.ts'
import { isSameValue } from '../brush/same-value.ts'
import type { Thumbnail } from '../brush/thumbnail.ts'
import { toOneLine } from '../formats/text.ts'
import { Line, Name } from '../forms/names.ts'
import { FRAMES_MAX, NAME_MAX_CHARS } from '../limits.ts'
import { hasNameLength } from '../names.ts'
import { toTold } from '../number-row.ts'

/** What of a brush can be changed on many at once. */
export type Changeable = {
  name: string
  maker: string
  licence: string
  tags: readonly string[]
  recipe: Recipe
  thumbnail: Thumbnail
}

/** Where a brush stands among those that are changed. */
export type Standing = { frames: number; number: number; total: number }

/** How a number follows from what it was, one row a way. */
export const NUMBER_WAYS = {
  set: { word: 'becomes', of: (_: number, value: number) => value },
  times: { word: 'times', of: (was: number, value: number) => was * value },
  atMost: { word: 'at most', of: (was: number, value: number) => Math.min(was, value) },
  atLeast: { word: 'at least', of: (was: number, value: number) => Math.max(was, value) },
} as const satisfies Record<string, { word: string; of: (was: number, value: number) => number }>
export type NumberWay = keyof typeof NUMBER_WAYS

/** Why a brush cannot be changed as it was wished, as it is said of several. */
export const CANNOT = {
  noPart: 'have no such part',
  fewFrames: 'have fewer frames',
  longName: `would have names of more than ${NAME_MAX_CHARS} characters`,
  noName: 'would have no name',
  manyTags: 'would have more than 30 tags',
} as const satisfies Record<string, string>
export type Cannot = keyof typeof CANNOT

const TAGS_MAX = 30
const SIGNS_MAX = 200

/** Parts that are what they are by the pictures of a brush, and cannot be another one's. */
const OF_PICTURES: readonly PartName[] = ['path.ribbon', 'path.nextFrame']
/** Parts of a recipe that a brush can have as another one has them. */
export const LENT_PARTS = PART_NAMES.filter((name) => !OF_PICTURES.includes(name))

const number = v.pipe(v.number(), v.finite())
const Text = v.pipe(v.string(), v.maxLength(SIGNS_MAX))

/** One change of many brushes, a kind each; see `KINDS`. */
export const Change = v.variant('kind', [
  v.strictObject({
    kind: v.literal('number'),
    name: v.picklist(NUMBER_NAMES),
    way: v.picklist(Object.keys(NUMBER_WAYS) as NumberWay[]),
    value: number,
    /** Whether only brushes are changed that use the part it belongs to. */
    onlyUsed: v.boolean(),
  }),
  v.strictObject({
    kind: v.literal('parts'),
    /** Which parts, and the brush they are taken from. */
    parts: v.pipe(v.array(v.picklist(LENT_PARTS as [PartName, ...PartName[]])), v.minLength(1)),
    brushId: v.pipe(v.string(), v.uuid()),
  }),
  v.strictObject({ kind: v.literal('reading'), reading: v.picklist(PAINT_READINGS) }),
  v.strictObject({ kind: v.literal('pattern'), pattern: v.pipe(Text, v.nonEmpty('a pattern is needed')) }),
  v.strictObject({ kind: v.literal('replace'), find: v.pipe(Text, v.nonEmpty('what is replaced?')), by: Text }),
  v.strictObject({ kind: v.literal('maker'), maker: Line }),
  v.strictObject({ kind: v.literal('licence'), licence: Line }),
  v.strictObject({
    kind: v.literal('tags'),
    add: v.pipe(v.array(Name), v.maxLength(TAGS_MAX)),
    remove: v.pipe(v.array(Name), v.maxLength(TAGS_MAX)),
  }),
  v.strictObject({
    kind: v.literal('thumbnail'),
    /** The stroke, or a frame counted from 1. */
    frame: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(FRAMES_MAX))),
  }),
])
export type Change = v.InferOutput<typeof Change>
export type ChangeKind = Change['kind']
type Of<Kind extends ChangeKind> = Extract<Change, { kind: Kind }>

/** What a change comes to: the brush after it, and whether a number was held at its bound; or why it cannot be. */
export type Changed = { to: Changeable; isHeld?: boolean } | { cannot: Cannot }

type Kind<Name extends ChangeKind> = (
  was: Changeable,
  change: Of<Name>,
  standing: Standing,
  /** The recipe of the brush that parts are taken from. */
  lender: Recipe | undefined,
) => Changed

const named = (was: Changeable, wanted: string): Changed => {
  const name = toOneLine(wanted, Number.POSITIVE_INFINITY).trim()
  if (name === '') return { cannot: 'noName' }
  return hasNameLength(name) ? { to: { ...was, name } } : { cannot: 'longName' }
}

type Groups = Record<string, Record<string, unknown>>
const split = (part: PartName) => part.split('.') as [group: keyof typeof RECIPE_PARTS, key: string]

/** Whether a recipe uses a part. */
export function usesPart(recipe: Recipe, part: PartName): boolean {
  const [group, key] = split(part)
  const value = (recipe as unknown as Groups)[group]?.[key]
  return value !== undefined && (RECIPE_PARTS[group] as Record<string, RecipePart>)[key]?.isUsed(value, recipe) === true
}

const partOf = (name: NumberName) => name.split('.').slice(0, 2).join('.') as PartName

/** What each kind of change does, a row each. */
const KINDS: { [Name in ChangeKind]: Kind<Name> } = {
  number: (was, { name, way, value, onlyUsed }) => {
    const before = numberOf(was.recipe, name)
    if (before === undefined) return { cannot: 'noPart' }
    if (onlyUsed && !usesPart(was.recipe, partOf(name))) return { to: was }
    const { unit } = RECIPE_NUMBERS[name]
    const wished = NUMBER_WAYS[way].of(before, value)
    const recipe = withNumber(was.recipe, name, unit === '' ? Math.round(wished) : wished)
    const isHeld = Math.abs((numberOf(recipe, name) ?? 0) - wished) > 0.5 && unit !== ''
    return { to: { ...was, recipe }, ...(isHeld ? { isHeld } : {}) }
  },
  parts: (was, { parts }, _, lender) => {
    if (!lender) return { cannot: 'noPart' }
    const recipe = { ...was.recipe } as unknown as Groups
    for (const part of parts) {
      const [group, key] = split(part)
      const { [key]: _, ...rest } = recipe[group] ?? {}
      const lent = (lender as unknown as Groups)[group]?.[key]
      recipe[group] = lent === undefined ? rest : { ...rest, [key]: lent }
    }
    return { to: { ...was, recipe: recipe as unknown as Recipe } }
  },
  reading: (was, { reading }) => ({
    to: { ...was, recipe: { ...was.recipe, colour: { ...was.recipe.colour, reading } } },
  }),
  pattern: (was, { pattern }, standing) => named(was, fillPattern(pattern, was, standing)),
  replace: (was, { find, by }) =>
    named(
      was,
      was.name.replaceAll(find, () => by),
    ),
  maker: (was, { maker }) => ({ to: { ...was, maker } }),
  licence: (was, { licence }) => ({ to: { ...was, licence } }),
  tags: (was, { add, remove }) => {
    const tags = [...new Set([...was.tags, ...add])].filter((tag) => !remove.includes(tag)).sort()
    return tags.length > TAGS_MAX ? { cannot: 'manyTags' } : { to: { ...was, tags } }
  },
  thumbnail: (was, { frame }, { frames }) => {
    if (frame === null) return { to: { ...was, thumbnail: { from: 'stroke' } } }
    return frame > frames ? { cannot: 'fewFrames' } : { to: { ...was, thumbnail: { from: 'frame', frame: frame - 1 } } }
  },
}

/** What may stand in a pattern of names, a row each, and what it is filled with. */
export const PATTERN_WORDS = {
  name: { says: 'its name', of: ({ name }: Changeable) => name },
  number: {
    says: 'its number in the choice',
    of: (_: Changeable, { number, total }: Standing) => String(number).padStart(String(total).length, '0'),
  },
  maker: { says: 'its maker', of: ({ maker }: Changeable) => maker },
  size: { says: 'its size in px', of: ({ recipe }: Changeable) => String(Math.round(recipe.mark.sizePx)) },
  frames: { says: 'how many frames it has', of: (_: Changeable, { frames }: Standing) => String(frames) },
} as const satisfies Record<string, { says: string; of: (was: Changeable, standing: Standing) => string }>

/** A pattern filled in; what is in braces and no word of ours stays as it is. */
export const fillPattern = (pattern: string, was: Changeable, standing: Standing): string =>
  pattern.replace(/\{([a-z]{1,20})\}/g, (whole, word: string) =>
    word in PATTERN_WORDS ? PATTERN_WORDS[word as keyof typeof PATTERN_WORDS].of(was, standing) : whole,
  )

/** What a change makes of a brush. @param lender The recipe that parts are taken from, where it takes any. */
export function applyChange(was: Changeable, change: Change, standing: Standing, lender?: Recipe): Changed {
  const kind = KINDS[change.kind] as Kind<ChangeKind>
  const changed = kind(was, change as never, standing, lender)
  return 'to' in changed && isSameChangeable(changed.to, was) ? { ...changed, to: was } : changed
}

const isSameChangeable = (a: Changeable, b: Changeable): boolean => isSameValue(a, b)

/**
 * How much two states differ to whoever paints, 0 to 1: the largest share by which one of the numbers moved on its way from one
 * bound to the other, by its ratio where that is larger; 1 where anything else of the recipe differs.
 */
export function amountOfChange(was: Changeable, is: Changeable): number {
  let most = 0
  let numbersMoved = was.recipe
  for (const name of NUMBER_NAMES) {
    const [before, after] = [numberOf(was.recipe, name), numberOf(is.recipe, name)]
    if (before === undefined || after === undefined || before === after) continue
    numbersMoved = withNumber(numbersMoved, name, after)
    const { from, to } = RECIPE_NUMBERS[name]
    const share = Math.abs(after - before) / (to - from)
    const ratio = 1 - Math.min(Math.abs(before), Math.abs(after)) / Math.max(Math.abs(before), Math.abs(after))
    most = Math.max(most, share, 0.9 * ratio)
  }
  return isSameValue(numbersMoved, is.recipe) ? most : 1
}

/** What each kind of change is called when it was made, a row each: "the size is times 2". */
const SAID: { [Name in ChangeKind]: (change: Of<Name>) => string } = {
  number: ({ name, way, value }) => {
    const row = RECIPE_NUMBERS[name]
    const told = way === 'times' ? `${Math.round(value * 1000) / 1000}` : `${toTold(value, row)} ${row.unit}`.trim()
    return `${row.label.toLowerCase()} ${NUMBER_WAYS[way].word} ${told}`
  },
  parts: ({ parts }) =>
    parts
      .map((part) => {
        const [group, key] = split(part)
        const { label } = (RECIPE_PARTS[group] as Record<string, RecipePart>)[key] ?? { label: key }
        return (group === 'variation' ? `variation of ${label}` : label).toLowerCase()
      })
      .join(', ')
      .concat(' as in another brush'),
  reading: ({ reading }) => READING_WORDS[reading],
  pattern: ({ pattern }) => `named by "${pattern}"`,
  replace: ({ find, by }) => `"${find}" in the name became "${by}"`,
  maker: ({ maker }) => (maker === '' ? 'no maker' : `made by ${maker}`),
  licence: ({ licence }) => (licence === '' ? 'no licence' : `licence ${licence}`),
  tags: ({ add, remove }) =>
    [add.length > 0 && `tagged ${add.join(', ')}`, remove.length > 0 && `no more tagged ${remove.join(', ')}`]
      .filter(Boolean)
      .join(', '),
  thumbnail: ({ frame }) => (frame === null ? 'shown by the stroke' : `shown by frame ${frame}`),
}

/** A change in words, as it stands behind how many brushes it has changed. */
export const sayChange = (change: Change): string => (SAID[change.kind] as (change: Change) => string)(change)
