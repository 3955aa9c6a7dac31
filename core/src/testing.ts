import fc from 'fast-check'
import * as v from 'valibot'
import { COUNT_MAX, Curve, FRAME_RULES, Recipe, SPACING_MAX_PCT, SPACING_MIN_PCT } from './brush/recipe.ts'
import type { PixelSha } from './hashes.ts'
import type { Pixels } from './raster/pixels.ts'

/** Pictures of any small size, kind and content, for property tests. */
export const anyPixels = (maxSide = 12): fc.Arbitrary<Pixels> =>
  fc
    .record({
      width: fc.integer({ min: 1, max: maxSide }),
      height: fc.integer({ min: 1, max: maxSide }),
      channels: fc.constantFrom<1 | 4>(1, 4),
    })
    .chain(({ width, height, channels }) => {
      const length = width * height * channels
      return fc
        .uint8Array({ minLength: length, maxLength: length })
        .map((data) => ({ width, height, channels, data: new Uint8Array(data) }))
    })

/** A soft round mark, grey, light paints: full in the middle, none at the rim. */
export function roundTip(side: number): Pixels {
  const data = new Uint8Array(side * side)
  const middle = side / 2
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const distance = Math.sqrt((x + 0.5 - middle) ** 2 + (y + 0.5 - middle) ** 2) / middle
      data[y * side + x] = Math.round(255 * Math.max(0, 1 - distance))
    }
  }
  return { width: side, height: side, channels: 1, data }
}

/** The name of some picture, for recipes whose grain is not looked for. */
export const NO_PIXELS = '0'.repeat(64) as PixelSha

/** Where the schema allows more than a test can wait for, or means more than it says: by the path of the field. */
const NARROWED: Record<string, fc.Arbitrary<unknown>> = {
  'mark.sizePx': fc.integer({ min: 1, max: 80 }),
  'path.spacingPct': fc.oneof(
    { weight: 9, arbitrary: fc.integer({ min: 8, max: 300 }) },
    { weight: 1, arbitrary: fc.integer({ min: SPACING_MIN_PCT, max: SPACING_MAX_PCT }) },
  ),
  'path.count': fc.oneof(
    { weight: 9, arbitrary: fc.integer({ min: 1, max: 3 }) },
    { weight: 1, arbitrary: fc.integer({ min: 4, max: COUNT_MAX }) },
  ),
  'path.nextFrame': fc.array(
    fc.record({ rule: fc.constantFrom(...FRAME_RULES), frames: fc.integer({ min: 1, max: 3 }) }),
    { minLength: 1, maxLength: 2 },
  ),
  'path.taper.startPx': fc.integer({ min: 0, max: 90 }),
  'path.taper.endPx': fc.integer({ min: 0, max: 90 }),
  'path.ribbon.leadInPx': fc.integer({ min: 0, max: 30 }),
  'path.ribbon.leadOutPx': fc.integer({ min: 0, max: 30 }),
  'ground.grain.sha256': fc.constant(NO_PIXELS),
}

type Schema = v.GenericSchema & {
  entries?: Record<string, Schema>
  options?: readonly unknown[]
  wrapped?: Schema
  literal?: unknown
  pipe?: readonly { type: string; requirement?: unknown }[]
}

/** Values of a schema made of the parts that the recipe is made of. @throws {Error} For a part it does not know. */
function anyOf(schema: Schema, path: string): fc.Arbitrary<unknown> {
  if (NARROWED[path]) return NARROWED[path]
  if (schema === (Curve as unknown)) return anyCurve
  switch (schema.type) {
    case 'strict_object':
      return anyObject(schema.entries ?? {}, path)
    case 'union':
      return fc.oneof(...(schema.options as Schema[]).map((option) => anyOf(option, `${path}|`)))
    case 'picklist':
      return fc.constantFrom(...(schema.options ?? []))
    case 'literal':
      return fc.constant(schema.literal)
    case 'boolean':
      return fc.boolean()
    case 'number': {
      const bound = (type: string) => schema.pipe?.find((action) => action.type === type)?.requirement as number
      const [min, max] = [bound('min_value'), bound('max_value')]
      const isWhole = schema.pipe?.some((action) => action.type === 'integer')
      return isWhole ? fc.integer({ min, max }) : fc.double({ min, max, noNaN: true })
    }
    default:
      throw new Error(`no values known for ${schema.type} at ${path}`)
  }
}

function anyObject(entries: Record<string, Schema>, path: string): fc.Arbitrary<unknown> {
  const isOptional = (schema: Schema) => schema.type === 'optional'
  const values = Object.entries(entries).map(([key, schema]): [string, fc.Arbitrary<unknown>] => [
    key,
    anyOf(isOptional(schema) && schema.wrapped ? schema.wrapped : schema, path ? `${path}.${key}` : key),
  ])
  const always = Object.keys(entries).filter((key) => !isOptional(entries[key]))
  return fc.record(Object.fromEntries(values), { requiredKeys: always }).map((made) => ({ ...made }))
}

const unit = fc.double({ min: 0, max: 1, noNaN: true })
const anyCurve = fc
  .tuple(unit, unit, unit)
  .map(([a, b, c]): [number, number][] => [[0, a], [0.5, b], [1, c]]) // biome-ignore format: points

/** Recipes from the whole schema, for pictures of a hundred or two px; a new part of the recipe is in it by itself. */
export const anyRecipe = anyOf(Recipe as unknown as Schema, '') as fc.Arbitrary<Recipe>

/** Values like `value`, of which one number lies at an end of what its schema allows; beside them where that number stands. */
export function* atEnds(
  schema: v.GenericSchema,
  value: unknown,
  where = '',
): Generator<{ where: string; value: unknown }> {
  const { type, entries, wrapped, options, item, pipe } = schema as Schema & { item?: Schema }
  if (wrapped) return yield* atEnds(wrapped, value, where)
  if (type === 'number')
    for (const { requirement: end } of pipe?.filter(({ type }) => /^m(in|ax)_value$/.test(type)) ?? [])
      yield { where: `${where} ${end}`, value: end }
  for (const option of (Array.isArray(options) ? options : []) as unknown[])
    if (isSchema(option) && v.is(option, value)) return yield* atEnds(option, value, where)
  if (item && Array.isArray(value))
    for (const [k, each] of value.entries())
      for (const end of atEnds(item, each, `${where}.${k}`)) yield { ...end, value: value.with(k, end.value) }
  if (entries && typeof value === 'object' && value !== null)
    for (const [key, each] of Object.entries(value))
      if (entries[key] && each !== undefined)
        for (const end of atEnds(entries[key], each, `${where}.${key}`))
          yield { ...end, value: { ...value, [key]: end.value } }
}

const isSchema = (option: unknown): option is Schema =>
  typeof option === 'object' && option !== null && 'type' in option
