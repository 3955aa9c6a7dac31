import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, Recipe } from '../brush/recipe.ts'
import { NUMBER_NAMES, numberOf, RECIPE_NUMBERS } from '../brush/recipe-numbers.ts'
import {
  amountOfChange,
  applyChange,
  type Change,
  type Changeable,
  Change as ChangeSchema,
  LENT_PARTS,
  NUMBER_WAYS,
  sayChange,
} from './change.ts'

const brush = (more: Partial<Changeable> = {}): Changeable => ({
  ...{ name: 'Down soft', maker: 'Wren', licence: 'CC0-1.0', tags: ['soft'], recipe: defaultRecipe({ sizePx: 24 }) },
  thumbnail: { from: 'stroke' },
  ...more,
})
const alone = { frames: 1, number: 1, total: 1 }
const to = (was: Changeable, change: Change, standing = alone, lender?: Recipe) => {
  const changed = applyChange(was, change, standing, lender)
  if ('cannot' in changed) throw new Error(changed.cannot)
  return changed.to
}
const size = (way: keyof typeof NUMBER_WAYS, value: number): Change => ({
  ...{ kind: 'number', name: 'mark.sizePx', way, value, onlyUsed: false },
})

describe('a number of many brushes', () => {
  it('becomes another, or follows from what it was', () => {
    expect(to(brush(), size('set', 60)).recipe.mark.sizePx).toBe(60)
    expect(to(brush(), size('times', 1.5)).recipe.mark.sizePx).toBe(36)
    expect(to(brush(), size('atMost', 20)).recipe.mark.sizePx).toBe(20)
    expect(to(brush(), size('atMost', 30)).recipe.mark.sizePx).toBe(24)
    expect(to(brush(), size('atLeast', 30)).recipe.mark.sizePx).toBe(30)
  })

  it('is held within its bounds, and that is told', () => {
    const changed = applyChange(brush(), size('times', 10_000), alone)
    expect(changed).toMatchObject({ isHeld: true, to: { recipe: { mark: { sizePx: 4096 } } } })
    expect(applyChange(brush(), size('times', 2), alone)).not.toHaveProperty('isHeld')
  })

  it('changes only where its part is used, if that is wished, and cannot where there is no such part', () => {
    const flow: Change = { kind: 'number', name: 'colour.flow', way: 'set', value: 0.5, onlyUsed: true }
    const plain = brush()
    expect(to(plain, flow)).toBe(plain)
    const recipe = { ...plain.recipe, colour: { ...plain.recipe.colour, flow: 0.8 } }
    expect(to(brush({ recipe }), flow).recipe.colour.flow).toBe(0.5)
    expect(applyChange(plain, { ...flow, name: 'ground.grain.scalePct' }, alone)).toEqual({ cannot: 'noPart' })
  })

  it('gives a recipe that may be saved, whatever is wished', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...NUMBER_NAMES),
        fc.constantFrom(...(Object.keys(NUMBER_WAYS) as (keyof typeof NUMBER_WAYS)[])),
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.boolean(),
        (name, way, value, onlyUsed) => {
          const change = v.parse(ChangeSchema, { kind: 'number', name, way, value, onlyUsed })
          const changed = applyChange(brush(), change, alone)
          if ('cannot' in changed) {
            expect(numberOf(brush().recipe, name)).toBeUndefined()
            return
          }
          expect(v.is(Recipe, changed.to.recipe)).toBe(true)
          const now = numberOf(changed.to.recipe, name) ?? 0
          expect(now).toBeGreaterThanOrEqual(RECIPE_NUMBERS[name].from)
          expect(now).toBeLessThanOrEqual(RECIPE_NUMBERS[name].to)
        },
      ),
    )
  })
})

describe('other changes of many brushes', () => {
  it('takes parts from another brush, also that it has none', () => {
    const lender = defaultRecipe({ sizePx: 90 })
    const curve: [number, number][] = [[0, 0], [1, 1]] // biome-ignore format: two points
    lender.hand.pressure.size = curve
    const was = brush()
    const withGrain = {
      ...was.recipe,
      ground: {
        grain: {
          sha256: 'a'.repeat(64) as never,
          anchor: 'canvas',
          scalePct: 100,
          strength: 1,
          brightness: 0,
          contrast: 0,
          randomTurn: 'none',
        },
      },
    } as Recipe
    const change: Change = { kind: 'parts', parts: ['hand.pressure', 'ground.grain'], brushId: crypto.randomUUID() }
    const after = to(brush({ recipe: withGrain }), change, alone, lender).recipe
    expect(after.hand.pressure.size).toEqual(curve)
    expect(after.ground).toEqual({})
    expect(after.mark.sizePx).toBe(24)
    expect(LENT_PARTS).not.toContain('path.nextFrame')
  })

  it('names by a pattern, with numbers as wide as the last one', () => {
    const named = (pattern: string) =>
      applyChange(brush(), { kind: 'pattern', pattern }, { frames: 3, number: 7, total: 120 })
    expect(named('Shore {number} {name}, {size} px, {frames}')).toMatchObject({
      to: { name: 'Shore 007 Down soft, 24 px, 3' },
    })
    expect(named('{maker} {what}')).toMatchObject({ to: { name: 'Wren {what}' } })
    expect(named('   ')).toEqual({ cannot: 'noName' })
    expect(named('x'.repeat(130))).toEqual({ cannot: 'longName' })
    // what stands in a name is no pattern
    const sly = brush({ name: '{maker} $&' })
    expect(to(sly, { kind: 'pattern', pattern: '{name}!' }).name).toBe('{maker} $&!')
    expect(to(sly, { kind: 'replace', find: 'maker', by: '$&$1' }).name).toBe('{$&$1} $&')
  })

  it('changes maker, licence, tags, reading and thumbnail', () => {
    expect(to(brush(), { kind: 'maker', maker: 'Tern' }).maker).toBe('Tern')
    expect(to(brush(), { kind: 'licence', licence: 'CC-BY-4.0' }).licence).toBe('CC-BY-4.0')
    expect(to(brush(), { kind: 'tags', add: ['ink', 'soft'], remove: ['soft'] }).tags).toEqual(['ink'])
    expect(to(brush(), { kind: 'reading', reading: 'alpha' }).recipe.colour.reading).toBe('alpha')
    const frame = (frame: number | null, frames: number) =>
      applyChange(brush(), { kind: 'thumbnail', frame }, { ...alone, frames })
    expect(frame(2, 4)).toMatchObject({ to: { thumbnail: { from: 'frame', frame: 1 } } })
    expect(frame(5, 4)).toEqual({ cannot: 'fewFrames' })
  })

  it('gives back the very brush where nothing becomes different', () => {
    const was = brush()
    expect(to(was, { kind: 'maker', maker: 'Wren' })).toBe(was)
    expect(to(was, size('atMost', 24))).toBe(was)
  })
})

it('tells large changes from small ones, and everything that is no number from both', () => {
  const amount = (change: Change) => amountOfChange(brush(), to(brush(), change))
  expect(amount(size('set', 25))).toBeLessThan(amount(size('set', 60)))
  expect(amount(size('set', 60))).toBeLessThan(amount(size('set', 200)))
  expect(amount({ kind: 'reading', reading: 'light' })).toBe(1)
  expect(amount({ kind: 'maker', maker: 'Tern' })).toBe(0)
})

it('says each change in words', () => {
  const said = (change: unknown) => sayChange(v.parse(ChangeSchema, change))
  const flow = { kind: 'number', name: 'colour.flow', onlyUsed: true }
  expect(said({ ...flow, way: 'atMost', value: 0.5 })).toBe('flow at most 50 %')
  expect(said({ ...flow, way: 'times', value: 1.25 })).toBe('flow times 1.25')
  expect(said({ kind: 'parts', parts: ['hand.pressure', 'variation.size'], brushId: crypto.randomUUID() })).toBe(
    'pressure, variation of size as in another brush',
  )
  expect(said({ kind: 'tags', add: ['ink'], remove: ['wet'] })).toBe('tagged ink, no more tagged wet')
  expect(said({ kind: 'thumbnail', frame: null })).toBe('shown by the stroke')
})
