import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import { recipeDifference } from '../brush/recipe-difference.ts'
import { NUMBER_NAMES, numberOf } from '../brush/recipe-numbers.ts'
import type { PixelSha } from '../hashes.ts'
import { PACK_VERSION, type PackBrush, type PackManifest } from '../pack/manifest.ts'
import { anyRecipe } from '../testing.ts'
import { differenceOf, isSame } from './difference.ts'
import { draftNotes } from './draft-notes.ts'
import { proposeVersion, stepOf, whyNoVersion, whyStep } from './version.ts'

const sha = (sign: string) => sign.repeat(64) as PixelSha
const brush = (id: string, over: Partial<PackBrush> = {}): PackBrush => ({
  id,
  name: `Brush ${id}`,
  maker: 'Tidewrack Studio',
  licence: 'CC0-1.0',
  tags: ['soft'],
  recipe: defaultRecipe(),
  frames: [sha(id)],
  frameNames: [],
  keys: [],
  thumbnail: { from: 'stroke' },
  note: '',
  ...over,
})

/** A recipe that has every part there is. */
function wholeRecipe(): Recipe {
  const recipe = defaultRecipe()
  const curve: [number, number][] = [[0, 0.2], [1, 0.9]] // biome-ignore format: points
  const curves = { size: curve, opacity: curve, flow: curve, angle: curve, frame: curve }
  recipe.path.ribbon = { lay: 'repeated', leadInPx: 3, leadOutPx: 4 }
  recipe.hand = { pressure: structuredClone(curves), tilt: structuredClone(curves), speed: structuredClone(curves) }
  recipe.variation = {
    ...{ size: { from: 0.5, to: 1 }, angle: { from: -5, to: 5 }, squash: 0.1, opacity: 0.2 },
    ...{ flow: { from: 0.1, to: 2 }, hue: 0.3, saturation: { from: -3, to: 4 }, value: 0.4 },
  }
  recipe.ground.grain = {
    ...{ sha256: sha('e'), anchor: 'canvas', scalePct: 80, strength: 0.5, brightness: 0.1, contrast: 0.2 },
    randomTurn: 'none',
  }
  return recipe
}

const pack = (over: Partial<PackManifest> = {}): PackManifest => ({
  format: 'satchel-pack',
  version: PACK_VERSION,
  title: 'Shore',
  maker: 'Tidewrack Studio',
  licence: 'CC0-1.0',
  help: 'Press lightly.',
  release: '1.0.0',
  brushes: [
    brush('a', { recipe: wholeRecipe(), keys: [['k', 'v']], thumbnail: { from: 'text', text: 'A' }, note: 'flat' }),
    brush('b', { frames: [sha('b'), sha('c')], frameNames: ['left', 'right'] }),
    brush('d'),
    brush('f'),
  ],
  grains: [{ sha256: sha('e'), name: 'Sand' }],
  strips: [{ sha256: sha('a'), name: 'Rope' }],
  single: ['f'],
  sets: [
    { name: 'Down', brushes: ['a', 'b'] },
    { name: 'Wrack', brushes: ['d', 'a'] },
  ],
  pockets: [{ name: 'Evening', entries: [{ brush: 'a', sizePx: 20, label: 'small' }] }],
  destinations: ['Dunlin'],
  ...over,
})

/** Every value of a tree that is no list or object, with a copy of the tree in which that one is another. */
function* oneOther(tree: unknown, path = ''): Generator<{ path: string; tree: unknown }> {
  if (Array.isArray(tree))
    for (const [i, item] of tree.entries())
      for (const changed of oneOther(item, `${path}.${i}`)) yield { ...changed, tree: tree.with(i, changed.tree) }
  else if (typeof tree === 'object' && tree !== null)
    for (const [key, item] of Object.entries(tree))
      for (const changed of oneOther(item, path ? `${path}.${key}` : key))
        yield { ...changed, tree: { ...tree, [key]: changed.tree } }
  else if (typeof tree === 'number') yield { path, tree: tree + 0.004 }
  else if (typeof tree === 'string') yield { path, tree: otherText(path, tree) }
}

/** What stands in a table of words is another of its words. */
const OTHER_WORDS: Record<string, string> = {
  canvas: 'stroke', none: 'stamp', repeated: 'stretched', fixed: 'tilt', inOrder: 'random', dark: 'light', normal: 'multiply',
  paint: 'erase', stroke: 'region', text: 'region',
} // biome-ignore format: pairs
const otherText = (path: string, text: string) =>
  /recipe|thumbnail\.from/.test(path) && OTHER_WORDS[text] ? OTHER_WORDS[text] : `${text.slice(0, -1)}z`

describe('the difference of two releases', () => {
  it('is none between a pack and itself, whatever the order in which its keys were stored', () => {
    const stored = JSON.parse(JSON.stringify(pack()), (_, value) =>
      typeof value === 'object' && value !== null && !Array.isArray(value)
        ? Object.fromEntries(Object.entries(value).reverse())
        : value,
    )
    expect(isSame(differenceOf({ manifest: pack() }, { manifest: stored }))).toBe(true)
    expect(draftNotes(differenceOf({ manifest: pack() }, { manifest: stored }))).toBe('')
  })

  it('says so when any one thing that a pack holds is another', () => {
    const unsaid = new Set(['format', 'version', 'release']) // of the file, not of what is in it
    let tried = 0
    for (const { path, tree } of oneOther(pack())) {
      if (unsaid.has(path) || path.endsWith('recipe.version')) continue
      const difference = differenceOf({ manifest: pack() }, { manifest: tree as PackManifest })
      // the pixels of grains and strips are told with the brushes that use them
      if (!/^(grains|strips)\.\d\.sha256$/.test(path)) expect(isSame(difference), path).toBe(false)
      tried++
      for (const { parts, facts, pictures } of difference.brushes.changed)
        for (const { from, to } of [...parts, ...facts, ...pictures]) expect(from, path).not.toBe(to)
    }
    expect(tried).toBeGreaterThan(120)
  })

  it('says so when anything is left out or added', () => {
    const same = pack()
    for (const key of ['brushes', 'single', 'sets', 'pockets', 'destinations'] as const) {
      const less = { ...same, [key]: same[key].slice(0, -1) } as PackManifest
      expect(isSame(differenceOf({ manifest: same }, { manifest: less })), key).toBe(false)
      expect(isSame(differenceOf({ manifest: less }, { manifest: same })), key).toBe(false)
    }
    const text = (licenceText: string) => ({ manifest: same, licenceText })
    expect(differenceOf(text('a'), text('b')).facts).toHaveLength(1)
  })

  it('tells new, gone, renamed, moved and changed apart, and follows a brush by its id', () => {
    const was = pack()
    const is = pack({
      brushes: [
        brush('b', { ...was.brushes[1], name: 'Feather' }),
        brush('d', { recipe: { ...defaultRecipe(), mark: { ...defaultRecipe().mark, sizePx: 90 } } }),
        brush('f'),
        brush('9'),
      ],
      sets: [{ name: 'Down', brushes: ['b', '9'] }, { name: 'Reeds', brushes: ['d'] }], // biome-ignore format: pairs
      pockets: [],
    })
    const { brushes, sets, pockets } = differenceOf({ manifest: was }, { manifest: is })
    expect(brushes.new.map(({ id }) => id)).toEqual(['9'])
    expect(brushes.gone.map(({ id }) => id)).toEqual(['a'])
    expect(brushes.renamed).toEqual([{ id: 'b', name: 'Feather', from: 'Brush b' }])
    expect(brushes.moved).toEqual([{ id: 'd', name: 'Brush d', from: 'Wrack', to: 'Reeds' }])
    expect(brushes.changed).toEqual([
      {
        id: 'd',
        name: 'Brush d',
        facts: [],
        parts: [{ part: 'mark.sizePx', label: 'Size', from: '64 px', to: '90 px' }],
        pictures: [],
      },
    ])
    expect(sets).toEqual({ new: ['Reeds'], gone: ['Wrack'], reordered: false })
    expect(pockets).toHaveLength(1)
  })

  it('says of one brush that goes to the front that it moved, and of no other', () => {
    const order = (ids: string) => pack({ sets: [{ name: 'Down', brushes: [...ids] }] })
    const moved = (from: string, to: string) =>
      differenceOf({ manifest: order(from) }, { manifest: order(to) }).brushes.moved.map(({ id }) => id)
    expect(moved('abdf', 'fabd')).toEqual(['f'])
    expect(moved('abdf', 'bdfa')).toEqual(['a'])
    expect(moved('abdf', 'abdf')).toEqual([])
    expect(moved('abdf', 'bafd')).toHaveLength(2)
    fc.assert(
      fc.property(fc.shuffledSubarray(['a', 'b', 'd', 'f'], { minLength: 4 }), (ids) => {
        const said = new Set(moved('abdf', ids.join('')))
        // those that are not said to have moved follow one another as they did
        const stay = ids.filter((id) => !said.has(id))
        expect(stay).toEqual([...stay].sort())
      }),
    )
  })

  it('finds the same brush in the pack of another library by what it paints, then by its name', () => {
    const one = pack({ single: [], sets: [], pockets: [] })
    const other = {
      ...one,
      brushes: one.brushes.map((each, i) => ({ ...each, id: `other ${i}`, ...(i === 1 ? { name: 'Feather' } : {}) })),
    }
    const { brushes } = differenceOf({ manifest: one }, { manifest: other })
    expect(brushes.new).toEqual([])
    expect(brushes.renamed).toEqual([{ id: 'other 1', name: 'Feather', from: 'Brush b' }])
    const painted = { ...other, brushes: other.brushes.map((each) => ({ ...each, frames: [sha('7')] })) }
    const byName = differenceOf({ manifest: one }, { manifest: painted }).brushes
    expect(byName.changed).toHaveLength(3)
    expect([byName.new.length, byName.gone.length]).toEqual([1, 1]) // the renamed one, of which nothing is left
  })

  it('tells how large pictures were and are', () => {
    const facts = (width: number, sizeBytes: number) => ({ width, height: 9, sizeBytes })
    const was = { manifest: pack(), pictures: new Map([[sha('d'), facts(9, 100)]]) }
    const manifest = pack({ brushes: pack().brushes.with(2, brush('d', { frames: [sha('8')] })) })
    const is = { manifest, pictures: new Map([[sha('8'), facts(30, 400)]]) }
    expect(differenceOf(was, is).brushes.changed[0]?.pictures).toEqual([
      { label: 'Frames', from: '1 frame, 9 × 9 px, 100 bytes', to: '1 frame, 30 × 9 px, 400 bytes' },
    ])
  })
})

describe('the parts of a recipe that differ', () => {
  it('are told with what was and what is, whichever two recipes', () => {
    fc.assert(
      fc.property(anyRecipe, anyRecipe, (a, b) => {
        expect(recipeDifference(a, structuredClone(a))).toEqual([])
        for (const { from, to, label } of recipeDifference(a, b)) {
          expect(from).not.toBe(to)
          expect(label).not.toBe('')
        }
        for (const name of NUMBER_NAMES)
          if (numberOf(a, name) !== numberOf(b, name))
            expect(recipeDifference(a, b).some(({ part }) => name.startsWith(part))).toBe(true)
      }),
      { numRuns: 200 },
    )
  })
})

describe('the version that is proposed', () => {
  const to = (over: Partial<PackManifest>) => differenceOf({ manifest: pack() }, { manifest: pack(over) })
  it('follows from what is gone, new, or neither', () => {
    const gone = to({ brushes: pack().brushes.slice(0, 3), single: [] })
    const renamed = to({ brushes: pack().brushes.with(3, brush('f', { name: 'Fan' })) })
    const noSet = to({ sets: pack().sets.slice(1) })
    const added = to({ brushes: [...pack().brushes, brush('9')] })
    const mended = to({ help: 'Press hard.' })
    expect([gone, renamed, noSet, added, mended].map(stepOf)).toEqual(['large', 'large', 'large', 'small', 'mended'])
    const next = (difference: typeof gone | undefined) => proposeVersion(['1.2.3', '1.10.0', '1.9.9'], difference)
    expect([gone, added, mended, undefined].map(next)).toEqual(['2.0.0', '1.11.0', '1.10.1', '1.11.0'])
    expect(proposeVersion([], undefined)).toBe('1.0.0')
    expect(whyStep(to({}))).toBe('nothing differs from the last release')
    expect(whyStep(gone)).toBe('something is gone or renamed')
  })

  // semver.org 2.0.0, item 11: precedence
  const RISING = ['1.0.0-alpha', '1.0.0-alpha.1', '1.0.0-alpha.beta', '1.0.0-beta', '1.0.0-beta.2', '1.0.0-beta.11', '1.0.0-rc.1', '1.0.0', '2.0.0', '2.1.0', '2.1.1'] // biome-ignore format: as it stands there
  it.each(RISING.slice(1).map((higher, i) => [RISING[i] as string, higher]))('has %s below %s', (lower, higher) => {
    expect(whyNoVersion(higher, [lower])).toBeUndefined()
    expect(whyNoVersion(lower, [higher])).toContain('is not above')
    expect(whyNoVersion(higher, [higher])).toContain('is not above')
  })

  it('is none where it is written otherwise', () => {
    for (const text of ['1', '1.2', 'v1.2.3', '01.2.3', '1.2.3 ', '', 'one'])
      expect(whyNoVersion(text, []), text).toContain('no semantic version')
  })
})

it('what is new is drafted in plain words, and long lists are counted', () => {
  const many = Array.from({ length: 11 }, (_, i) => brush(`n${i}`, { name: `Reed ${i}` }))
  const is = pack({
    brushes: [
      ...pack()
        .brushes.slice(0, 3)
        .with(1, brush('b', { ...pack().brushes[1], note: 'slow' })),
      ...many,
    ],
    single: [],
    help: `${'long '.repeat(30)}`,
    licence: 'CC-BY-4.0',
  })
  expect(draftNotes(differenceOf({ manifest: pack() }, { manifest: is })).split('\n')).toEqual([
    'New: "Reed 0", "Reed 1", "Reed 2", "Reed 3", "Reed 4", "Reed 5", "Reed 6", "Reed 7" and 3 more.',
    'Gone: "Brush f".',
    'Changed: "Brush b" (note).',
    'About the pack: licence was CC0-1.0, is CC-BY-4.0, another help.',
  ])
})
