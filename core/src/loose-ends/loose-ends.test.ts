import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { defaultRecipe } from '../brush/recipe.ts'
import { BUILT_IN } from '../destinations/built-in.ts'
import { planFit } from '../destinations/plan.ts'
import { FitWriter } from '../destinations/write-files.ts'
import { toUtf8 } from '../formats/text.ts'
import { type FileSha, hashBytes } from '../hashes.ts'
import { createPixels } from '../raster/pixels.ts'
import { anyRecipe } from '../testing.ts'
import { addLooks, findLooseEnds, type LibraryFile } from './find.ts'
import { createLocate } from './locate.ts'
import { NameIndex, nameLikeness } from './name-likeness.ts'
import {
  originOf,
  type Reference,
  readBrushSettings,
  resolveTarget,
  rewriteBrushSettings,
  toTarget,
} from './references.ts'
import { applyRule, suggestRules } from './rename-rule.ts'
import { recipeOfSettings } from './settings-recipe.ts'

const sha = (text: string) => hashBytes(toUtf8(text))
const file = (path: string, content = path): LibraryFile => ({ path, sha256: sha(content) })
const reference = (target: string, sha256?: FileSha): Reference => ({
  file: 'App 6/Shore/Reeds/Reed.sand',
  brush: 'Reed',
  kind: 'tip' as const,
  target,
  sha256,
})
const find = (wanted: Reference | Reference[], files: LibraryFile[], more = {}) =>
  findLooseEnds([wanted].flat(), files, { origin: 'root', ...more })

describe('settings', () => {
  const text = `{ "name": "Reed", "pictures": "a/b.png", "of": "another program", "grain": "a/g.png", "settings": { "mark.sizePx": 9 } }`

  it('are read with what they refer to, and anything else is none', () => {
    const read = readBrushSettings('a/Reed.sand', toUtf8(text))
    expect(read?.references.map(({ kind, target, sha256 }) => [kind, target, sha256])).toEqual([
      ['tip', 'a/b.png', undefined],
      ['grain', 'a/g.png', undefined],
    ])
    expect(read?.said).toEqual({ 'mark.sizePx': 9 })
    for (const bad of ['', '[]', '{"name":"x"}', '{"name":"x","pictures":5}', 'ÿ'])
      expect(readBrushSettings('x', toUtf8(bad))).toBeUndefined()
    expect(readBrushSettings('x', Uint8Array.of(0xff, 0xfe))).toBeUndefined()
  })

  it('keep whatever else they say, in its order, when a target changes', () => {
    const bytes = rewriteBrushSettings(toUtf8(text), [{ kind: 'grain', target: 'c/g.png', sha256: sha('g') }])
    const data = JSON.parse(new TextDecoder().decode(bytes))
    expect(Object.keys(data)).toEqual(['name', 'pictures', 'of', 'grain', 'settings', 'grainSha256'])
    expect(data).toMatchObject({ pictures: 'a/b.png', of: 'another program', grain: 'c/g.png', grainSha256: sha('g') })
    expect(() => rewriteBrushSettings(toUtf8('[]'), [])).toThrow(RangeError)
  })

  it('name a place so that it is found again, from the root or from beside', () => {
    const part = fc.stringMatching(/^[a-z]{1,3}$/)
    const path = fc.array(part, { minLength: 1, maxLength: 5 }).map((parts) => parts.join('/'))
    fc.assert(
      fc.property(path, path, fc.constantFrom('root' as const, 'beside' as const), (from, to, origin) => {
        expect(resolveTarget({ file: from, target: toTarget(from, to, origin) }, origin)).toBe(to)
      }),
    )
    expect(resolveTarget({ file: 'a/x.tune', target: '../../g.png' }, 'beside')).toBeUndefined()
  })
})

describe('a loose end', () => {
  it('is found by what it held, wherever that lies now, and that is sure', () => {
    const files = [file('App 6/Shore/Reeds/Other.png', 'reed'), file('App 6/Shore/Reeds/Reed.png', 'changed')]
    const [end] = find(reference('App 5/Shore/Reeds/Reed.png', sha('reed')), files)
    expect(end).toMatchObject({ lookedAt: 'App 5/Shore/Reeds/Reed.png', isSure: true })
    expect(end?.proposals).toEqual([
      { path: 'App 6/Shore/Reeds/Other.png', by: 'content', score: 100 },
      { path: 'App 6/Shore/Reeds/Reed.png', by: 'name', score: 100 },
    ])
  })

  it('of several places that hold the same goes to the nearest', () => {
    const files = [file('A/Reed.png', 'reed'), file('App 6/Shore/Reeds/Reed.png', 'reed')]
    const [end] = find(reference('App 5/Shore/Reeds/Reed.png', sha('reed')), files)
    expect(end?.proposals[0]?.path).toBe('App 6/Shore/Reeds/Reed.png')
  })

  it('that says nothing of what it held is sure only by one file of its name in a folder of its name', () => {
    const wanted = reference('App 5/Shore/Reeds/Reed.png')
    const moved = file('App 6/Shore/Reeds/Reed.png')
    expect(find(wanted, [moved])[0]).toMatchObject({ isSure: true, proposals: [{ by: 'name', score: 100 }] })
    expect(find(wanted, [moved, file('Copy/Reeds/Reed.png')])[0]?.isSure).toBe(false)
    expect(find(wanted, [file('App 6/Shore/Rushes/Reed.png')])[0]?.isSure).toBe(false)
    // another content under the very name is for the curator to see
    expect(find({ ...wanted, sha256: sha('reed') }, [moved])[0]).toMatchObject({
      isSure: false,
      proposals: [{ by: 'name' }],
    })
    // what was there once is known from an install
    const known = find(wanted, [file('Z.png', 'reed')], { knownSha: () => sha('reed') })
    expect(known[0]).toMatchObject({ isSure: true, proposals: [{ by: 'content', path: 'Z.png' }] })
  })

  it('whose file is gone altogether is put back from what was kept of it', () => {
    const wanted = reference('App 6/Shore/Reeds/Reed.png', sha('reed'))
    expect(find(wanted, [], { isKept: () => true })[0]).toMatchObject({
      isSure: true,
      proposals: [{ path: 'App 6/Shore/Reeds/Reed.png', by: 'content', putBack: true }],
    })
    expect(find(wanted, [], { isKept: () => false })[0]).toMatchObject({ isSure: false, proposals: [] })
  })

  it('puts what looks the same before what is called alike; sure where no difference is seen, and once', () => {
    const ends = find(reference('App 5/Reed.png', sha('x')), [file('Reed 2.png'), file('Zz.png')])
    const seen = (path: string, isSame: boolean) => ({ path, score: 97, isSame })
    const [end] = addLooks(ends, () => [seen('Zz.png', true)])
    expect(end?.proposals.map(({ path, by }) => [path, by])).toEqual([
      ['Zz.png', 'look'],
      ['Reed 2.png', 'name'],
    ])
    expect(end?.isSure).toBe(true)
    expect(addLooks(ends, () => [seen('Zz.png', false)])[0]?.isSure).toBe(false)
    expect(addLooks(ends, () => [seen('Zz.png', true), seen('Y.png', true)])[0]?.isSure).toBe(false)
    expect(addLooks(ends, () => [])).toEqual(ends)
  })

  it('is none where the file is there, and one where the path leads out of the folder', () => {
    expect(find(reference('Reed.png'), [file('Reed.png')])).toEqual([])
    expect(find(reference('../Reed.png'), [file('Reed.png')])[0]).toMatchObject({ lookedAt: undefined })
  })
})

describe('a library among other files', () => {
  const at = (file: string, target: string, paths: string[]) =>
    createLocate(paths)({ file, target, brush: '', kind: 'tip', sha256: undefined })

  it('is looked through beside its settings, from its own root, and where its root would be', () => {
    const zip = 'old.zip/App 5/Shore/Reeds'
    expect(at(`${zip}/Reed.sand`, 'Reed.png', [`${zip}/Reed.png`])).toBe(`${zip}/Reed.png`)
    expect(at(`${zip}/Reed.tune`, '../Grains/g.png', ['old.zip/App 5/Shore/Grains/g.png'])).toBe(
      'old.zip/App 5/Shore/Grains/g.png',
    )
    expect(at(`${zip}/Reed.sand`, 'App 5/Shore/Reeds/Reed.png', [`${zip}/Reed.png`])).toBe(`${zip}/Reed.png`)
    // two libraries with the same inside: its own counts
    const both = [`${zip}/Reed.png`, 'new.zip/App 5/Shore/Reeds/Reed.png']
    expect(at(`${zip}/Reed.sand`, 'App 5/Shore/Reeds/Reed.png', both)).toBe(`${zip}/Reed.png`)
    expect(at(`${zip}/Reed.sand`, 'App 5/Shore/Gone.png', both)).toBe('old.zip/App 5/Shore/Gone.png')
    expect(at(`${zip}/Reed.sand`, 'App 4/Shore/Reeds/Reed.png', both)).toBe('App 4/Shore/Reeds/Reed.png')
    expect(at('Reed.sand', '../../x.png', [])).toBeUndefined()
  })
})

describe('names', () => {
  it('are alike by their letters, whatever marks, case and extension they have', () => {
    expect(nameLikeness('kelp edge', 'kelp edge')).toBe(100)
    expect(nameLikeness('kelp edge', 'kelp ridge')).toBe(80)
    const index = new NameIndex(['x/Kelp-Edge.png', 'x/Écume.png', 'x/Rope.png'])
    expect(index.nearest('old/kelp_edge.gbr', 1)).toEqual([{ path: 'x/Kelp-Edge.png', score: 100 }])
    expect(index.nearest('ecume', 1)[0]?.path).toBe('x/Écume.png')
    expect(index.nearest('quite other', 1)[0]?.score ?? 0).toBeLessThan(50)
  })

  it('nearest of many are those that comparing each would find', () => {
    const word = fc.stringMatching(/^[a-d]{3,8}$/)
    fc.assert(
      fc.property(fc.uniqueArray(word, { minLength: 1, maxLength: 20 }), word, (names, wanted) => {
        const best = Math.max(...names.map((name) => nameLikeness(name, wanted)))
        // names without two letters in common begin and end otherwise, too: nothing speaks for them
        if (best >= 60) expect(new NameIndex(names).nearest(wanted, 1)[0]?.score).toBe(best)
      }),
    )
  })
})

describe('a rule', () => {
  const paths = ['App 6/Shore/Reeds/Reed.png', 'App 6/Shore/Reeds/Rush.png', 'Seaweed/Reed.png']
  const ends = find(
    [reference('App 5/Shore/Reeds/Reed.png'), reference('App 5/Shore/Reeds/Gone.png'), reference('App 55/Reed.png')],
    paths.map((path) => file(path)),
  )

  it('takes whole parts of a path, and says what it leads to and whether that is there', () => {
    expect(applyRule(ends, { from: 'App 5/', to: 'App 6' }, new Set(paths))).toEqual([
      { key: 'tip App 6/Shore/Reeds/Reed.sand', path: 'App 6/Shore/Reeds/Reed.png', isThere: true },
      { key: 'tip App 6/Shore/Reeds/Reed.sand', path: 'App 6/Shore/Reeds/Gone.png', isThere: false },
    ])
    expect(applyRule(ends, { from: 'App', to: 'X' }, new Set(paths))).toEqual([])
    expect(applyRule(ends, { from: 'App 5/Shore', to: '' }, new Set(['Reeds/Reed.png']))[0]).toMatchObject({
      isThere: true,
    })
  })

  it('follows from what was found', () => {
    expect(suggestRules(ends, new Set(paths))[0]).toEqual({ from: 'App 5', to: 'App 6', mends: 1 })
    expect(suggestRules([], new Set(paths))).toEqual([])
  })
})

describe('the recipe of settings', () => {
  it('is what was written, whatever it is, for an app that knows all of it', () => {
    fc.assert(
      fc.property(anyRecipe, (recipe) => {
        const frames = recipe.path.nextFrame.reduce((all, each) => all * each.frames, 1)
        const pictures = Array.from({ length: frames }, () => createPixels(3, 3, 1))
        const grain = recipe.ground.grain && { name: 'Weave', pixels: createPixels(4, 4, 1) }
        const brush = { name: 'Reed', set: '', maker: '', licence: '', frames: pictures, grain, recipe }
        const { arrivals } = planFit(brush, BUILT_IN.sanderling)
        const writer = new FitWriter(BUILT_IN.sanderling, { library: 'Shore' })
        const files = arrivals.flatMap((arrival) => writer.write(arrival))
        const settings = files.flatMap(({ path, bytes }) => readBrushSettings(path, bytes) ?? [])
        expect(settings).toHaveLength(1)
        const read = recipeOfSettings(settings[0]?.said ?? {}, { frames, grain: recipe.ground.grain?.sha256 })
        // JSON knows no -0
        expect(read).toEqual({ recipe: JSON.parse(JSON.stringify(arrivals[0]?.recipe)), ignored: [] })
      }),
      { numRuns: 60 },
    )
  })

  it('passes over what cannot be understood, and rules for pictures that are not there', () => {
    const said = {
      'mark.sizePx': 'large',
      'path.count': 3,
      'path.nextFrame': [{ rule: 'random', frames: 4 }],
      'mark.glow': 1,
    }
    const { recipe, ignored } = recipeOfSettings(said, { frames: 2, grain: undefined })
    expect([recipe.path.count, ignored]).toEqual([3, ['mark.sizePx', 'path.nextFrame']])
  })
})

describe('what is written for a destination', () => {
  it('has no loose ends, whatever its sets and libraries are called', () => {
    const tile = createPixels(8, 8, 1)
    tile.data[9] = 200
    const grain = { sha256: '0'.repeat(64), anchor: 'canvas', scalePct: 100, strength: 1, brightness: 0, contrast: 0 }
    const recipe = defaultRecipe({ frames: 1 })
    const brush = { name: 'Reed', maker: '', licence: '', frames: [tile], grain: { name: 'Weave', pixels: tile } }
    const name = fc.string({ maxLength: 16 })
    fc.assert(
      fc.property(name, name, fc.constantFrom('sanderling' as const, 'shearwater' as const), (set, library, to) => {
        const ground = { grain: { ...recipe.ground.grain, ...grain } as never }
        const { arrivals } = planFit({ ...brush, set, recipe: { ...recipe, ground } }, BUILT_IN[to])
        const writer = new FitWriter(BUILT_IN[to], { library })
        const files = arrivals.flatMap((arrival) => writer.write(arrival))
        const references = files.flatMap(({ path, bytes }) => readBrushSettings(path, bytes)?.references ?? [])
        expect(references.map(({ kind }) => kind)).toEqual(['tip', 'grain'])
        const there = files.map(({ path, bytes }) => ({ path, sha256: hashBytes(bytes) }))
        expect(findLooseEnds(references, there, { origin: originOf(BUILT_IN[to]) })).toEqual([])
        // and each names the very bytes that lie there
        for (const { sha256 } of references) expect(there.some((each) => each.sha256 === sha256)).toBe(true)
      }),
      { numRuns: 40 },
    )
  })
})
