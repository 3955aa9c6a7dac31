import spdx from 'spdx-license-list'
import { describe, expect, it } from 'vitest'
import { defaultRecipe } from '../brush/recipe.ts'
import { BUILT_IN } from '../destinations/built-in.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { roundTip } from '../testing.ts'
import { checkPack } from './check-pack.ts'
import { type BrushFigures, measureBrush } from './figures.ts'
import { PICTURE_LICENCES, whyNotTogether } from './licences.ts'
import { RULE_NAMES, RULES, type RuleName, WEIGHTS } from './rules.ts'
import type { Subject, SubjectBrush } from './subject.ts'

const FINE: BrushFigures = {
  ...{ sidePx: 300, filled: 0.8, blank: [], unreached: [], same: [], uneven: [], shadows: [] },
  ...{ shows: 200, isThumbnailBlank: false },
}
const brush = (id: string, over: Partial<SubjectBrush> = {}): SubjectBrush => ({
  ...{ id, name: `Wrack ${id}`, maker: 'Tidewrack Studio', licence: 'CC-BY-4.0', version: 3, looked: 3, paints: id },
  ...{
    frames: 4,
    isThumbnailStale: false,
    isGrainGone: false,
    refused: undefined,
    seam: { of: 'grain' as const, figure: 1 },
  },
  ...{ likeness: [{ destinationId: 'dunlin', score: 93 }], figures: FINE },
  ...over,
})
const clean = (over: Partial<Subject> = {}): Subject => ({
  ...{ title: 'Shore', maker: 'Tidewrack Studio', licence: 'CC-BY-4.0', hasCover: true, leastLikeness: 70 },
  help: 'Begin with "Wrack one". Feathers & such are in another pack.',
  destinations: [{ id: 'dunlin', name: 'Dunlin', rules: { ...BUILT_IN.dunlin.names, letters: 'any', mostChars: 60 } }],
  brushes: [brush('one'), brush('two')],
  setNames: ['Kelp & Wrack'],
  elsewhere: { sets: ['Shell Stamps'], brushes: ['Gull quill', 'Feathers'] },
  alike: [],
  ...over,
})
const withFirst = (over: Partial<SubjectBrush>) => clean({ brushes: [brush('one', over), brush('two')] })
const withFigures = (over: Partial<BrushFigures>) => withFirst({ figures: { ...FINE, ...over } })

/** For every rule, a pack in which it has something to say and no other has, and the sentence it says then. */
const PLANTED: Record<RuleName, [subject: Subject, sentence: string]> = {
  empty: [clean({ brushes: [], help: '' , alike: [] }), 'The pack holds no brush.'],
  notMeasured: [withFirst({ figures: undefined, refused: 'It was given up.' }), 'It was given up.'],
  noName: [withFirst({ name: 'Untitled 3' }), '"Untitled 3" says nothing of it.'],
  sameName: [withFirst({ name: 'wrack TWO' }), 'Another brush is called "wrack TWO".'],
  likeName: [clean({ brushes: [brush('one', { name: 'Kelp ll' }), brush('two', { name: 'Kelp Il' })], help: 'x' }), '"Kelp Il" looks like "Kelp ll".'],
  otherNameThere: [withFirst({ name: 'Wrack: wet' }), 'In Dunlin "Wrack: wet" is called "Wrack- wet".'],
  thumbnailBlank: [withFigures({ isThumbnailBlank: true }), 'Its thumbnail is blank.'],
  thumbnailStale: [withFirst({ isThumbnailStale: true }), 'Its thumbnail was made before the brush was changed.'],
  grainGone: [withFirst({ isGrainGone: true }), 'The grain that it names is not in the library.'],
  seam: [withFirst({ seam: { of: 'grain', figure: 1.25 } }), 'The seam of its grain shows: 1.25, and 1.2 is seamless.'],
  stripSeam: [withFirst({ seam: { of: 'strip', figure: 1.31 } }), 'The seam of its strip shows: 1.31, and 1.2 is seamless.'],
  framesBlank: [withFigures({ blank: [2, 4] }), 'Frames 2, 4 of 4 paint nothing.'],
  framesUnused: [withFigures({ unreached: [1] }), 'Frame 1 of 4 never come: no pressure, tilt or speed leads to them.'],
  framesUneven: [withFigures({ uneven: ['frame 3 is 40 % smaller'] }), 'frame 3 is 40 % smaller.'],
  framesSame: [withFigures({ same: [[1, 3]] }), 'Frames 1, 3 look the same.'],
  greyShadow: [withFigures({ shadows: [2] }), 'Frame 2 has a grey shadow that lets through.'],
  heavy: [withFigures({ sidePx: 2049 }), 'Its tip is 2049 px long; 2048 do.'],
  margins: [withFigures({ filled: 0.24 }), 'Only 24 % of its picture is mark, the rest is margin.'],
  nothingShows: [withFigures({ shows: 11 }), 'Its stroke is hardly seen: 11 of 255 levels at most. Opacity or flow may be too low.'],
  twice: [withFirst({ paints: 'two' }), '"Wrack two" paints the same as "Wrack one".'],
  alike: [clean({ alike: [['one', 'two']] }), 'The tip of "Wrack two" looks like that of "Wrack one".'],
  noLicence: [clean({ licence: ' ' }), 'The pack has no licence.'],
  licenceForbids: [withFirst({ licence: 'CC-BY-NC-4.0' }), 'CC-BY-NC-4.0 forbids to earn by it, and CC-BY-4.0 allows that.'],
  licenceMissing: [withFirst({ licence: '' }), 'It has no licence of its own.'],
  noMaker: [withFirst({ maker: '' }), 'Nobody is named as its maker.'],
  packMaker: [clean({ maker: '' }), 'The pack names no maker.'],
  likeness: [withFirst({ likeness: [{ destinationId: 'dunlin', score: 69.4 }] }), 'In Dunlin it is 69 of 100 like itself; the pack asks for 70.'],
  noHelp: [clean({ help: ' ' }), 'The pack has no help text.'],
  helpNames: [clean({ help: 'Shell Stamps set one a step.' }), 'The help text names the set "Shell Stamps", which is not in the pack.'],
  noCover: [clean({ hasCover: false }), 'The pack has no cover.'],
  changed: [withFirst({ version: 5 }), 'It is at version 5; you looked at 3.'],
} // biome-ignore format: a table

describe('the check list of a pack', () => {
  it('has nothing to say of a pack that is in order, nor of what was not measured yet', () => {
    expect(checkPack(clean())).toEqual([])
    expect(checkPack(withFirst({ figures: undefined, looked: undefined, seam: undefined, likeness: [] }))).toEqual([])
    expect(checkPack(clean({ alike: undefined }))).toEqual([])
  })

  it.each(RULE_NAMES)('says it by its own rule and by no other: %s', (rule) => {
    const [subject, sentence] = PLANTED[rule]
    const others = { empty: ['noHelp'] } as Partial<Record<RuleName, RuleName[]>>
    const found = checkPack(subject).filter((finding) => !others[rule]?.includes(finding.rule))
    expect(found.map(({ rule: by, sentence: said }) => [by, said])).toEqual([[rule, sentence]])
    expect(found[0]?.weight).toBe(RULES[rule].weight)
  })

  it('names each finding once, and as it did before when something else changes', () => {
    const many = clean({
      ...{ licence: '', hasCover: false, help: 'See "Gull quill" and Shell Stamps.' },
      brushes: [
        brush('one', { paints: 'same', figures: { ...FINE, blank: [1], shadows: [1] } }),
        brush('two', { paints: 'same' }),
      ],
    })
    const keys = checkPack(many).map(({ key }) => key)
    expect(new Set(keys).size).toBe(keys.length)
    const later = checkPack({ ...many, hasCover: true }).map(({ key }) => key)
    expect(later).toEqual(keys.filter((key) => !key.startsWith('noCover')))
    // what says something else is another finding: the reason for the first was not given for this one
    const worse = (shows: number) => checkPack(withFigures({ shows })).map(({ key }) => key)
    expect(worse(8)).not.toEqual(worse(0))
    expect(worse(8)).toEqual(worse(8))
  })

  it('puts first what stops a release, then what deserves care, then what is told', () => {
    const findings = checkPack(withFirst({ licence: 'CC-BY-ND-4.0', name: 'Untitled', maker: '', isGrainGone: true }))
    const weights = findings.map(({ weight }) => WEIGHTS.indexOf(weight))
    expect(weights).toEqual([...weights].sort())
    expect(new Set(weights).size).toBe(3)
  })

  it('finds names in help only where they are meant: sets anywhere, a brush of one plain word in quotes', () => {
    const said = (help: string) =>
      checkPack(clean({ help })).map(({ rule, sentence }) => `${rule} ${/"(.*)"/.exec(sentence)?.[1]}`)
    expect(said('Feathers are soft.')).toEqual([])
    expect(said('Use "Feathers" first.')).toEqual(['helpNames Feathers'])
    expect(said('Take Gull quill.')).toEqual(['helpNames Gull quill'])
    expect(said('Take Gull quills, or Shell Stampsy.')).toEqual([])
    expect(checkPack(clean({ help: 'Shell Stamps', setNames: ['Shell Stamps'] }))).toEqual([])
  })

  it('says a brush that cannot be written at all, whatever the limit', () => {
    const subject = { ...withFirst({ likeness: [{ destinationId: 'dunlin', score: -1 }] }), leastLikeness: 0 }
    expect(checkPack(subject).map(({ sentence }) => sentence)).toEqual(['It cannot be written for Dunlin.'])
  })
})

describe('licences side by side', () => {
  it('are all of the SPDX list (https://spdx.org/licenses/)', () => {
    for (const [id, { same = [] }] of Object.entries(PICTURE_LICENCES))
      for (const each of [id, ...same]) expect(Object.hasOwn(spdx, each), each).toBe(true)
  })

  it('go together where the pack asks for all that the brush does', () => {
    const fine = (own: string, pack: string) => whyNotTogether(own, pack) === undefined
    expect(fine('CC0-1.0', 'CC-BY-NC-ND-4.0')).toBe(true)
    expect(fine('CC-BY-4.0', 'CC-BY-SA-4.0')).toBe(true)
    expect(fine('CC-BY-4.0', 'CC0-1.0')).toBe(false)
    expect(fine('CC-BY-SA-3.0', 'CC-BY-SA-4.0')).toBe(true)
    expect(fine('CC-BY-SA-4.0', 'CC-BY-SA-3.0')).toBe(false)
    expect(fine('CC-BY-SA-4.0', 'CC-BY-4.0')).toBe(false)
    expect(fine('CC-BY-NC-4.0', 'CC-BY-4.0')).toBe(false)
    expect(fine('CC-BY-NC-4.0', 'CC-BY-NC-4.0')).toBe(true)
    expect(fine('CC-BY-ND-4.0', 'CC-BY-4.0')).toBe(false)
    // of what nobody knows nothing is said
    expect(fine('in my own words', 'CC0-1.0')).toBe(true)
    expect(fine('CC-BY-4.0', 'in my own words')).toBe(true)
  })
})

describe('what is measured of a brush', () => {
  const measure = (frames: Pixels[], change: (recipe: ReturnType<typeof defaultRecipe>) => void = () => undefined) => {
    const recipe = defaultRecipe({ sizePx: 30, reading: 'light', frames: frames.length })
    change(recipe)
    return measureBrush({ frames, recipe, thumbnail: { from: 'stroke' } })
  }
  const onCanvas = (tip: Pixels, side: number): Pixels => {
    const canvas = createPixels(side, side, 1)
    for (let y = 0; y < tip.height; y++)
      canvas.data.set(tip.data.subarray(y * tip.width, (y + 1) * tip.width), y * side)
    return canvas
  }

  it('is nothing worth a word of a plain round tip', () => {
    expect(measure([roundTip(41)])).toMatchObject({
      ...{ sidePx: 41, blank: [], unreached: [], same: [], uneven: [], shadows: [], isThumbnailBlank: false },
      shows: expect.toSatisfy((shows: number) => shows > 150),
      filled: expect.toSatisfy((filled: number) => filled > 0.8),
    })
  })

  it('finds frames that paint nothing, and margins', () => {
    expect(measure([roundTip(20), createPixels(20, 20, 1), roundTip(20)]).blank).toEqual([2])
    expect(measure([onCanvas(roundTip(15), 61)]).filled).toBeLessThan(0.1)
  })

  it('finds frames that a hand never reaches', () => {
    const frames = [9, 13, 17, 21].map(roundTip)
    const by = (curve?: [number, number][]) =>
      measure(frames, (recipe) => {
        recipe.path.nextFrame = [{ rule: 'pressure', frames: 4 }]
        if (curve) recipe.hand.pressure = { frame: curve }
      }).unreached
    expect(by()).toEqual([])
    expect(by([[0, 0], [1, 0.6]])).toEqual([4]) // biome-ignore format: points
    expect(by([[0, 0.5], [1, 0.5]])).toEqual([1, 2, 4]) // biome-ignore format: points
    const grid = measure(frames, (recipe) => {
      recipe.path.nextFrame = [{ rule: 'inOrder', frames: 2 }, { rule: 'pressure', frames: 2 }] // biome-ignore format: a row
      recipe.hand.pressure = { frame: [[0, 0], [1, 0.4]] } // biome-ignore format: points
    })
    expect(grid.unreached).toEqual([2, 4])
  })

  it('sees how much of a stroke shows, and asks that of nothing that erases', () => {
    const shows = (opacity: number, behaviour: 'paint' | 'erase' = 'paint') =>
      measure([roundTip(30)], (recipe) => Object.assign(recipe.colour, { opacity, behaviour })).shows
    expect(shows(0)).toBe(0)
    expect(shows(0.02)).toBeLessThan(12)
    expect(shows(0.5)).toBeGreaterThan(60)
    expect(shows(0.5, 'erase')).toBeNull()
  })

  it('finds grey shadows in coloured pictures, frames alike, and those that stand out', () => {
    const shaded = createPixels(40, 40, 4)
    for (let y = 4; y < 36; y++)
      for (let x = 4; x < 36; x++) shaded.data.set(y < 20 ? [200, 30, 40, 255] : [90, 90, 90, 120], (y * 40 + x) * 4)
    const recipe = defaultRecipe({ sizePx: 30, reading: 'own' })
    expect(measureBrush({ frames: [shaded], recipe, thumbnail: { from: 'stroke' } }).shadows).toEqual([1])
    const many = measure([30, 31, 30, 30, 12].map(roundTip))
    expect(many.same.flat()).toContain(1)
    expect(many.uneven.some((words) => words.startsWith('frame 5 is'))).toBe(true)
  })
})
