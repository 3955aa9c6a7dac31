import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { FRAME_RULES, Recipe } from '../brush/recipe.ts'
import { isSameValue } from '../brush/same-value.ts'
import { anyRecipe } from '../testing.ts'
import { decide, mergeThree, type Picks, type Three, WAYS } from './merge.ts'
import { type BrushState, FACETS, type Facet, facetOf, withFacets } from './state.ts'
import { tellUnits } from './told.ts'

const countOf = ({ recipe }: BrushState) => recipe.path.nextFrame.reduce((product, { frames }) => product * frames, 1)

/** A whole brush: as many frames as its rules go over, a thumbnail that is there. */
const anyState: fc.Arbitrary<BrushState> = fc
  .record({
    recipe: anyRecipe,
    name: fc.constantFrom('Kelp edge', 'Kelp', 'Down soft'),
    maker: fc.constantFrom('', 'Tidewrack'),
    licence: fc.constantFrom('CC0-1.0', ''),
    tags: fc.uniqueArray(fc.constantFrom('wet', 'dry', 'soft', 'class')),
    dimensions: fc.array(fc.integer({ min: 1, max: 2 }), { minLength: 1, maxLength: 2 }),
    rule: fc.constantFrom(...FRAME_RULES),
    picture: fc.constantFrom('a', 'b'),
    thumbnail: fc.constantFrom('stroke', 'frame', 'text'),
    named: fc.boolean(),
  })
  .map(({ recipe, dimensions, rule, picture, thumbnail, named, ...words }) => {
    const nextFrame = dimensions.map((frames) => ({ rule, frames }))
    const count = dimensions.reduce((product, frames) => product * frames, 1)
    const of = {
      stroke: { from: 'stroke' },
      frame: { from: 'frame', frame: count - 1 },
      text: { from: 'text', text: 'K' },
    }
    return {
      ...words,
      recipe: { ...recipe, path: { ...recipe.path, nextFrame: nextFrame as unknown as Recipe['path']['nextFrame'] } },
      pictures: {
        frames: Array.from({ length: count }, (_, i) => `${picture}${i}`),
        names: named ? Array.from({ length: count }, (_, i) => `frame ${i}`) : [],
        keys: [],
      },
      thumbnail: {
        of: of[thumbnail as keyof typeof of] as BrushState['thumbnail']['of'],
        file: thumbnail === 'text' ? picture : '',
      },
    }
  })

const isWhole = (state: BrushState) =>
  v.is(Recipe, state.recipe) &&
  countOf(state) === state.pictures.frames.length &&
  (state.thumbnail.of.from !== 'frame' || state.thumbnail.of.frame < state.pictures.frames.length)

/** What means something only together: changed more often than the rest. */
const TOGETHER: Facet[] = ['pictures', 'path.nextFrame', 'thumbnail', 'path.ribbon']

/** A state in which some things were changed, and which is whole. */
const changed = (base: BrushState): fc.Arbitrary<BrushState> =>
  fc
    .tuple(anyState, fc.oneof(fc.subarray([...FACETS]), fc.subarray(TOGETHER)), fc.boolean())
    .map(([other, some, tags]) => ({ ...withFacets(base, some, other), ...(tags ? { tags: other.tags } : {}) }))
    .filter(isWhole)

const anyThree: fc.Arbitrary<Three> = anyState.chain((base) =>
  fc.record({
    base: fc.constant(base),
    mine: fc.oneof(fc.constant(base), changed(base)),
    theirs: fc.oneof(fc.constant(base), changed(base)),
  }),
)
const anyPicks: fc.Arbitrary<Picks> = fc.dictionary(
  fc.constantFrom(...FACETS),
  fc.constantFrom('mine', 'theirs'),
) as fc.Arbitrary<Picks>

const isSame = (one: BrushState, two: BrushState, facet: Facet) => isSameValue(facetOf(one, facet), facetOf(two, facet))
const set = (tags: readonly string[]) => [...tags].sort()

describe('a newer release of a brush that was changed here', () => {
  it('loses no change that was made here', () => {
    fc.assert(
      fc.property(anyThree, (three) => {
        const { result } = mergeThree(three)
        for (const facet of FACETS)
          if (!isSame(three.mine, three.base, facet)) expect(facetOf(result, facet)).toEqual(facetOf(three.mine, facet))
        for (const tag of ['wet', 'dry', 'soft', 'class'])
          if (three.mine.tags.includes(tag) !== three.base.tags.includes(tag))
            expect(result.tags.includes(tag)).toBe(three.mine.tags.includes(tag))
      }),
    )
  })

  it('brings what its maker alone changed, and what was picked of what both did', () => {
    fc.assert(
      fc.property(anyThree, anyPicks, (three, picks) => {
        const { result, units } = mergeThree(three, picks)
        for (const { facets, change } of units) {
          const [first] = facets
          const side = change === 'both' ? ((first && picks[first]) ?? 'mine') : change
          for (const facet of facets)
            expect(facetOf(result, facet)).toEqual(facetOf(side === 'theirs' ? three.theirs : three.mine, facet))
        }
        for (const tag of ['wet', 'dry', 'soft', 'class'])
          if (three.mine.tags.includes(tag) === three.base.tags.includes(tag))
            expect(result.tags.includes(tag)).toBe(three.theirs.tags.includes(tag))
      }),
    )
  })

  it('is a whole brush again, whatever was decided', () => {
    fc.assert(
      fc.property(anyThree, anyPicks, fc.constantFrom(...WAYS), (three, picks, way) => {
        expect(isWhole(decide(three, { way, picks }).result)).toBe(true)
      }),
      { numRuns: 500 },
    )
  })

  it('changes nothing when it is taken a second time', () => {
    fc.assert(
      fc.property(anyThree, anyPicks, fc.constantFrom(...WAYS), (three, picks, way) => {
        const { result } = decide(three, { way, picks })
        const again = mergeThree({ base: three.theirs, mine: result, theirs: three.theirs })
        expect(again.standing).toBe('same')
        expect(again.result).toEqual(result)
      }),
    )
  })

  it('is followed where nothing was changed here', () => {
    fc.assert(
      fc.property(anyState, anyState, (base, theirs) => {
        const { result, standing, from } = mergeThree({ base, mine: base, theirs })
        for (const facet of FACETS) expect(facetOf(result, facet)).toEqual(facetOf(theirs, facet))
        expect(set(result.tags)).toEqual(set(theirs.tags))
        expect(['same', 'follows']).toContain(standing)
        if (!isSame(base, theirs, 'pictures')) expect(from.pictures).toBe('theirs')
      }),
    )
  })

  it('says whose each of its files is', () => {
    fc.assert(
      fc.property(anyThree, anyPicks, fc.constantFrom(...WAYS), (three, picks, way) => {
        const { result, from } = decide(three, { way, picks })
        expect(result.pictures).toEqual(three[from.pictures].pictures)
        expect(result.thumbnail).toEqual(three[from.thumbnail].thumbnail)
      }),
    )
  })

  it('asks exactly where both changed the same otherwise', () => {
    fc.assert(
      fc.property(anyThree, (three) => {
        const { standing, units } = mergeThree(three)
        expect(standing === 'open').toBe(units.some(({ change }) => change === 'both'))
        for (const { facets, change } of units) {
          const here = facets.some((facet) => !isSame(three.mine, three.base, facet))
          const there = facets.some((facet) => !isSame(three.theirs, three.base, facet))
          expect(change).toBe(here && there ? 'both' : here ? 'mine' : 'theirs')
        }
      }),
    )
  })

  it('leaves a strip and that it lies along the path to one side', () => {
    const [base] = fc.sample(anyState, { numRuns: 1, seed: 7 }) as [BrushState]
    const { ribbon: _, ...path } = base.recipe.path
    const stamped = { ...base, recipe: { ...base.recipe, path } }
    const ribbon = { lay: 'stretched' as const, leadInPx: 0, leadOutPx: 0 }
    const mine = { ...stamped, recipe: { ...base.recipe, path: { ...path, ribbon } } }
    const theirs = {
      ...stamped,
      pictures: { ...base.pictures, frames: base.pictures.frames.map((name) => `${name}*`) },
    }
    const { units, result } = mergeThree({ base: stamped, mine, theirs })
    expect(units).toEqual([{ facets: ['pictures', 'path.ribbon'], change: 'both' }])
    expect(result).toEqual(mine)
  })

  it('tells of each unit what it is called, as it is here and there', () => {
    const base = fc.sample(anyState, { numRuns: 1, seed: 7 })[0] as BrushState
    const size = (sizePx: number): BrushState => ({
      ...base,
      recipe: { ...base.recipe, mark: { ...base.recipe.mark, sizePx } },
    })
    const three = { base: size(20), mine: size(24), theirs: { ...size(32), name: 'Wrack' } }
    expect(tellUnits(three, mergeThree(three))).toEqual([
      { facet: 'name', change: 'theirs', label: 'Name', mine: base.name, theirs: 'Wrack' },
      { facet: 'mark.sizePx', change: 'both', label: 'Size', mine: '24 px', theirs: '32 px' },
    ])
  })
})
