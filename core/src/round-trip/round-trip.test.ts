import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import * as v from 'valibot'
import { beforeAll, describe, expect, it } from 'vitest'
import { defaultRecipe, type PaintReading, type Recipe, Recipe as RecipeSchema } from '../brush/recipe.ts'
import { compareSurfaces } from '../compare/likeness.ts'
import { BUILT_IN } from '../destinations/built-in.ts'
import { CARRY_ROWS } from '../destinations/carry-parts.ts'
import { type Destination, STAND_INS, type StandInName } from '../destinations/destination.ts'
import type { FitBrush } from '../destinations/fit-state.ts'
import type { FitFile } from '../destinations/write-files.ts'
import { readPng } from '../formats/png/read.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import type { StandInDecoders } from '../stand-ins/found.ts'
import { STAND_IN_READERS } from '../stand-ins/stand-ins.ts'
import { doWithout, findBetter } from './find-better.ts'
import { FIT_PAPER, findBestFit, measureFit, paintFit, paintFitGauge, paintOriginal } from './round-trip.ts'

const decoders: StandInDecoders = {
  png: async (bytes) => readPng(bytes).frames.map(({ pixels }) => pixels),
  async svg(bytes) {
    const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true })
    return { width: info.width, height: info.height, channels: 4, data: new Uint8Array(data) }
  },
}
const options = { decoders }

/** A leaf with ribs, dark on white, wider than high: turning, mirroring and cutting it shows. */
function leaf(width: number, height: number, lean = 0): Pixels {
  const out = createPixels(width, height, 1)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [x / width, (2 * y) / height - 1]
      const edge = Math.sin(Math.PI * u ** 0.7) * 0.9
      const ribs = 40 * Math.cos(22 * u + 6 * v + lean)
      out.data[y * width + x] = Math.abs(v) < edge ? Math.max(0, Math.min(255, 70 + ribs)) : 255
    }
  return out
}

/** The same shape in its own colours, or in tones. */
function coloured(from: Pixels, colour: (grey: number) => readonly [number, number, number]): Pixels {
  const out = createPixels(from.width, from.height, 4)
  for (let i = 0; i < from.data.length; i++) if (from.data[i] < 255) out.data.set([...colour(from.data[i]), 255], 4 * i)
  return out
}

const weave: Pixels = {
  width: 48,
  height: 48,
  channels: 1,
  data: Uint8Array.from({ length: 48 * 48 }, (_, i) => ((i % 48) % 12 < 6 ? 30 : 240) - 10 * (Math.floor(i / 48) % 3)),
}

type Change = { [Group in keyof Recipe]?: Partial<Recipe[Group]> }
function brushOf(frames: Pixels[], reading: PaintReading, sizePx: number, change: Change = {}): FitBrush {
  const base = defaultRecipe({ sizePx, reading, frames: frames.length })
  const recipe: Recipe = {
    ...base,
    mark: { ...base.mark, ...change.mark },
    path: { ...base.path, ...change.path },
    variation: { ...base.variation, ...change.variation },
    hand: { ...base.hand, ...change.hand },
    ground: { ...base.ground, ...change.ground },
    colour: { ...base.colour, ...change.colour },
  }
  const grain = recipe.ground.grain && { name: 'Weave', pixels: weave }
  return { name: 'Leaf', set: 'Leaves', maker: '', licence: '', frames, recipe, grain }
}

const grain: NonNullable<Recipe['ground']['grain']> = {
  sha256: '0'.repeat(64) as never,
  anchor: 'canvas',
  scalePct: 60,
  strength: 0.9,
  brightness: 0,
  contrast: 0,
  randomTurn: 'none',
}

/** A brush that uses nearly all that a recipe can say. */
const full = brushOf([leaf(120, 70), leaf(96, 90, 2), leaf(110, 60, 4)], 'dark', 40, {
  mark: { angle: { mode: 'following', deg: 20 }, squash: 0.8 },
  path: {
    spacingPct: 70,
    scatter: { acrossPct: 30, alongPct: 10 },
    count: 2,
    nextFrame: [{ rule: 'random', frames: 3 }],
    taper: { startPx: 40, endPx: 60, size: 0.8, opacity: 0.3 },
  },
  variation: { size: 0.4, angle: 0.1, opacity: 0.3, value: { from: -20, to: 10 } },
  hand: { pressure: { size: [[0, 0.2], [1, 1]], flow: [[0, 0.4], [1, 1]] } }, // biome-ignore format: points
  ground: { grain },
  colour: { opacity: 0.9, flow: 0.8, blend: 'multiply' },
})

describe('a brush sent to a destination and back', () => {
  it('paints alike from Sanderling, whatever its recipe says: at least 98', async () => {
    const tone = coloured(leaf(90, 60), (grey) => [grey, grey, grey])
    const own = coloured(leaf(90, 60), (grey) => [200, grey, 60])
    const strip = brushOf([leaf(200, 40)], 'dark', 30, {
      path: { ribbon: { lay: 'repeated', leadInPx: 30, leadOutPx: 30 } },
    })
    const erasing = brushOf([leaf(90, 60)], 'dark', 40, { colour: { behaviour: 'erase' } })
    for (const brush of [full, brushOf([tone], 'tone', 50), brushOf([own], 'own', 50), strip, erasing]) {
      const { likeness, plan, reading } = await findBestFit(brush, BUILT_IN.sanderling, {}, options)
      expect(likeness.score, brush.recipe.colour.reading).toBeGreaterThanOrEqual(98)
      expect(plan.left).toEqual([])
      expect(reading?.ignored).toEqual([])
    }
  })

  it('paints alike from Dunlin where the recipe says only what Dunlin knows: at least 95, at sizes of all kinds', async () => {
    for (const sizePx of [23, 47, 90]) {
      const single = brushOf([leaf(151, 83)], 'dark', sizePx, { path: { spacingPct: 60 } })
      const animated = brushOf([leaf(151, 83), leaf(151, 97, 2), leaf(151, 70, 4)], 'light', sizePx, {
        path: { spacingPct: 110, nextFrame: [{ rule: 'direction', frames: 3 }] },
      })
      for (const brush of [single, animated]) {
        const { likeness, files } = await findBestFit(brush, BUILT_IN.dunlin, {}, options)
        expect(likeness.score, `${sizePx} px, ${brush.frames.length}`).toBeGreaterThanOrEqual(95)
        expect(files.map(({ path }) => path)).toEqual([`Leaves/Leaf.${brush.frames.length > 1 ? 'gih' : 'gbr'}`])
      }
    }
  })

  it('says of every part that is used whether it is kept, approximated or left, and each once', async () => {
    for (const name of STAND_INS) {
      const { plan } = await measureFit(full, BUILT_IN[name], {}, options)
      const all = [...plan.kept, ...plan.approximated, ...plan.left].map(({ thing }) => thing)
      for (const part of [
        'mark.sizePx',
        'path.scatter',
        'variation.size',
        'hand.pressure',
        'ground.grain',
        'path.taper',
      ])
        expect(
          all.filter((thing) => thing === part),
          `${part} to ${name}`,
        ).toHaveLength(1)
    }
  })

  /** Brushes that each use something a destination does not know, and the question by which it is approximated. */
  const approximated: [string, FitBrush, StandInName, 'variation' | 'grain' | 'reading' | 'size', string][] = [
    ['turns by chance', brushOf([leaf(120, 60)], 'dark', 44, { path: { spacingPct: 120 }, variation: { angle: 1 } }), 'dunlin', 'variation', 'leave'],
    ['turns with the path', brushOf([leaf(120, 60)], 'dark', 44, { mark: { angle: { mode: 'following', deg: 0 } }, path: { spacingPct: 90 } }), 'dunlin', 'variation', 'leave'],
    ['size by pressure', brushOf([leaf(80, 80)], 'dark', 40, { hand: { pressure: { size: [[0, 0.1], [1, 1]] } } }), 'dunlin', 'variation', 'leave'],
    ['what is thrown', brushOf([leaf(90, 60)], 'dark', 24, { path: { spacingPct: 90, scatter: { acrossPct: 200, alongPct: 60 }, count: 3 } }), 'dunlin', 'variation', 'leave'],
    ['squash', brushOf([leaf(90, 90)], 'dark', 44, { mark: { squash: 0.3 }, path: { spacingPct: 80 } }), 'turnstone', 'variation', 'leave'],
    ['flow', brushOf([leaf(90, 60)], 'dark', 44, { path: { spacingPct: 110 }, colour: { flow: 0.3 } }), 'turnstone', 'variation', 'leave'],
    ['the grain', brushOf([leaf(120, 80)], 'dark', 90, { path: { spacingPct: 100 }, ground: { grain: { ...grain, anchor: 'stamp', scalePct: 100 } } }), 'turnstone', 'grain', 'leave'],
    ['the size', brushOf([leaf(300, 200)], 'dark', 40), 'dunlin', 'size', 'full'],
  ] // biome-ignore format: a table

  it.each(approximated)('is more like the original approximated than without: %s', async (_, brush, to, way, leave) => {
    const best = await findBestFit(brush, BUILT_IN[to], {}, options)
    const without = await measureFit(brush, BUILT_IN[to], { [way]: leave }, options)
    expect(best.plan.ways.find(({ name }) => name === way)?.chosen).not.toBe(leave)
    expect(best.likeness.score).toBeGreaterThan(without.likeness.score + 1)
  })

  it('keeps what the curator has chosen, also where something else would be more alike', async () => {
    const [, brush] = approximated[0] ?? []
    if (!brush) throw new Error('no brush')
    const { plan, tried } = await findBestFit(brush, BUILT_IN.dunlin, { variation: 'leave' }, options)
    expect(plan.ways.find(({ name }) => name === 'variation')?.chosen).toBe('leave')
    expect(plan.left.map(({ thing }) => thing)).toContain('variation.angle')
    expect(tried.map(({ way }) => way)).not.toContain('variation')
  })

  it('a ribbon goes to Plover as lines, to Shearwater as stamps; stamps go to Plover as a ribbon', async () => {
    const strip = brushOf([leaf(220, 40)], 'dark', 34, {
      path: { ribbon: { lay: 'repeated', leadInPx: 20, leadOutPx: 20 } },
    })
    const plover = await findBestFit(strip, BUILT_IN.plover, {}, options)
    expect(plover.reading?.brushes[0]?.recipe.path.ribbon).toMatchObject({ lay: 'repeated', leadInPx: 20 })
    expect(plover.likeness.score).toBeGreaterThan(70)
    const shearwater = await findBestFit(strip, BUILT_IN.shearwater, {}, options)
    expect(shearwater.reading?.brushes[0]?.recipe.path.ribbon).toBeUndefined()
    // better than the whole strip as any stamp
    const { ribbon: _, ...path } = strip.recipe.path
    const { layout, surface } = paintOriginal(strip)
    const plain = paintFitGauge({ frames: strip.frames, grain: undefined, recipe: { ...strip.recipe, path } }, layout)
    expect(shearwater.likeness.score).toBeGreaterThan(compareSurfaces(surface, plain, FIT_PAPER).score + 1)
    const stamps = await findBestFit(brushOf([leaf(90, 60)], 'dark', 30), BUILT_IN.plover, {}, options)
    expect(stamps.reading?.brushes[0]?.recipe.path.ribbon?.lay).toBe('repeated')
    expect(stamps.likeness.score).toBeGreaterThan(60)
  })

  it.each(['plover', 'shearwater', 'turnstone'] as const)('the pictures of %s are of what was compared', async (to) => {
    const brush = brushOf([leaf(90, 60), leaf(60, 90, 2)], 'dark', 40)
    const { after } = await measureFit(brush, BUILT_IN[to], {}, options)
    const pictures = await paintFit(brush, BUILT_IN[to], {}, options)
    const bytesOf = (surface?: { data: Uint8ClampedArray }) => Buffer.from(surface?.data ?? [])
    expect(bytesOf(pictures.before).equals(bytesOf(paintOriginal(brush).surface))).toBe(true)
    expect(bytesOf(pictures.after).equals(bytesOf(after))).toBe(true)
    expect(bytesOf(pictures.after).equals(bytesOf(pictures.before))).toBe(false)
  })

  it('one brush for each frame has a common name; or the first goes alone', async () => {
    const brush = brushOf([leaf(90, 60), leaf(90, 60, 2), leaf(90, 60, 4)], 'dark', 40)
    const each: Destination = { ...BUILT_IN.shearwater, files: { ...BUILT_IN.shearwater.files, several: 'oneEach' } }
    const all = await measureFit(brush, each, {}, options)
    expect(all.reading?.brushes.map(({ name }) => name)).toEqual(['Leaf 1', 'Leaf 2', 'Leaf 3'])
    const first = await measureFit(brush, each, { frames: 'first' }, options)
    expect(first.reading?.brushes.map(({ name }) => name)).toEqual(['Leaf'])
    // the rule that picked among them is not kept where there is nothing to pick from
    for (const { plan } of [all, first]) {
      expect(plan.left.map(({ thing }) => thing)).toContain('path.nextFrame')
      expect(plan.kept.map(({ thing }) => thing)).not.toContain('path.nextFrame')
    }
  })

  it('nothing outside the circle is lost in Turnstone, unless it is asked to cut', async () => {
    const square = createPixels(90, 90, 1) // black all over: its corners lie outside the circle
    const brush = brushOf([square], 'dark', 60, { path: { spacingPct: 130 } })
    const shrunk = await measureFit(brush, BUILT_IN.turnstone, {}, options)
    const cut = await measureFit(brush, BUILT_IN.turnstone, { circle: 'cut' }, options)
    expect(shrunk.likeness.score).toBeGreaterThan(97)
    expect(cut.likeness.score).toBeLessThan(shrunk.likeness.score - 2)
    // 1 - pi/4 of a square lies outside its circle, 21.5 %, but for the steps of its px
    expect(cut.plan.approximated.map(({ how }) => how).join()).toMatch(/\b21\.[345] %/)
  })
})

describe('what is wrong in the files shows in the figure', () => {
  const grained = brushOf([leaf(120, 80)], 'dark', 52, {
    path: { spacingPct: 70 },
    hand: { pressure: { size: [[0, 0.3], [1, 1]] } },
    ground: { grain },
  }) // biome-ignore format: points
  const animated = brushOf([leaf(90, 60), leaf(40, 90, 2), leaf(90, 20, 4)], 'dark', 60, { path: { spacingPct: 110 } })
  const written = new Map<string, FitFile[]>()
  const whole = new Map<string, number>()
  const cases = { shearwater: grained, sanderling: grained, turnstone: grained, dunlin: animated } as const

  beforeAll(async () => {
    for (const [name, brush] of Object.entries(cases)) {
      const { files, likeness } = await findBestFit(brush, BUILT_IN[name as StandInName], {}, options)
      written.set(name, files)
      whole.set(name, likeness.score)
    }
  })

  /** The score of broken files; what is not found at all is 0. */
  async function scoreOf(name: keyof typeof cases, files: readonly FitFile[]): Promise<number> {
    const folder = new Map(files.map(({ path, bytes }) => [path, bytes]))
    const { brushes } = await STAND_IN_READERS[name](folder, decoders)
    const [found] = brushes
    if (!found) return 0
    const { layout, surface } = paintOriginal(cases[name])
    return compareSurfaces(surface, paintFitGauge(found, layout), FIT_PAPER).score
  }

  const json =
    (change: (settings: Record<string, unknown>, whole: Record<string, unknown>) => void) => (files: FitFile[]) =>
      files.map((file) => {
        if (!/\.(tune|sand|press)$/.test(file.path)) return file
        const data = JSON.parse(new TextDecoder().decode(file.bytes))
        change(data.settings, data)
        return { ...file, bytes: new TextEncoder().encode(JSON.stringify(data)) }
      })
  const bytes = (path: RegExp, change: (bytes: Uint8Array) => Uint8Array) => (files: FitFile[]) =>
    files.map((file) => (path.test(file.path) ? { ...file, bytes: change(file.bytes.slice()) } : file))
  const without = (path: RegExp) => (files: FitFile[]) => files.filter((file) => !path.test(file.path))
  const renamed = (path: RegExp, name: string) => (files: FitFile[]) =>
    files.map((file) => (path.test(file.path) ? { ...file, path: name } : file))
  /** Changes the masks of an animated brush, each behind its own head. */
  const masks = (change: (mask: Uint8Array, n: number) => void) =>
    bytes(/gih$/, (all) => {
      let at = all.indexOf(10, all.indexOf(10) + 1) + 1
      const view = new DataView(all.buffer)
      for (let n = 0; at < all.length; n++) {
        const [head, , width, height] = [0, 1, 2, 3].map((k) => view.getUint32(at + 4 * k))
        change(all.subarray(at + head, at + head + width * height), n)
        at += head + width * height
      }
      return all
    })
  const text = (from: string, to: string) =>
    bytes(/gih$/, (all) =>
      Uint8Array.from(Buffer.from(Buffer.from(all).toString('latin1').replace(from, to), 'latin1')),
    )

  const breaks: [string, keyof typeof cases, (files: FitFile[]) => FitFile[]][] = [
    ['polarity turned round', 'dunlin', masks((mask) => mask.forEach((value, i) => { mask[i] = 255 - value }))],
    ['one frame blank', 'dunlin', masks((mask, n) => n === 1 && mask.fill(0))],
    ['every frame the first', 'dunlin', text('rank0:3 sel0:incremental', 'rank0:3 sel0:pressure   ')],
    ['paint at half strength', 'dunlin', masks((mask) => mask.forEach((value, i) => { mask[i] = value >> 1 }))],
    ['upside down', 'dunlin', masks((mask) => mask.reverse())],
    ['spacing of the head', 'dunlin', text('step:110', 'step:210')],
    ['a count too small', 'dunlin', text('\n3 ', '\n2 ')],
    ['a count too large', 'dunlin', text('\n3 ', '\n4 ')],
    ['cut short', 'dunlin', bytes(/gih$/, (all) => all.subarray(0, -50))],
    ['another extension', 'dunlin', renamed(/gih$/, 'Leaves/Leaf.gihx')],
    ['the size gone', 'shearwater', json((settings) => delete settings['mark.sizePx'])],
    ['the spacing doubled', 'shearwater', json((settings) => { settings['path.spacingPct'] = 140 })],
    ['a spacing beyond its range', 'shearwater', json((settings) => { settings['path.spacingPct'] = 900 })],
    ['the pressure gone', 'shearwater', json((settings) => delete settings['hand.pressure'])],
    ['the grain not named', 'shearwater', json((_, data) => delete data.grain)],
    ['the grain named, not there', 'shearwater', without(/Grains/)],
    ['the picture not there', 'shearwater', without(/png$/)],
    ['the grain at another scale', 'sanderling', json((settings) => { settings['ground.grain'] = { ...(settings['ground.grain'] as object), scalePct: 240 } })],
    ['read the other way', 'sanderling', json((settings) => { settings['colour.reading'] = 'light' })],
    ['a path of another version', 'sanderling', json((_, data) => { data.pictures = String(data.pictures).replace('Sanderling 5', 'Sanderling 4') })],
    ['settings that are no text', 'turnstone', bytes(/press$/, (all) => all.fill(255))],
    ['settings without a name', 'turnstone', json((_, data) => delete data.name)],
    ['a size as words', 'turnstone', json((settings) => { settings['mark.sizePx'] = 'large' })],
  ] // biome-ignore format: a table

  it.each(breaks)('%s, in %s', async (_, name, change) => {
    const files = written.get(name) ?? []
    expect(await scoreOf(name, files)).toBeCloseTo(whole.get(name) ?? Number.NaN, 6)
    expect(await scoreOf(name, change(files))).toBeLessThan((whole.get(name) ?? 0) - 1.5)
  })

  it('python3-pil reads the open brushes that go to Dunlin', async () => {
    const { files } = await findBestFit(brushOf([leaf(151, 83)], 'dark', 61), BUILT_IN.dunlin, {}, options)
    const file = join(mkdtempSync(join(tmpdir(), 'fit-')), 'leaf.gbr')
    writeFileSync(file, files[0]?.bytes ?? new Uint8Array())
    const said = execFileSync('/usr/bin/python3', [
      '-c',
      'import sys\nfrom PIL import Image\nim = Image.open(sys.argv[1])\nim.load()\nprint(im.size, im.mode)',
      file,
    ])
    expect(String(said).trim()).toBe('(61, 34) L')
  })
})

describe('what would make it better', () => {
  it('is told by measuring the brush without each part that does not arrive whole, the best first', async () => {
    const brush = brushOf([leaf(60, 40)], 'dark', 40, {
      path: { scatter: { acrossPct: 160, alongPct: 0 }, count: 3, spacingPct: 60 } as never,
      variation: { hue: 0.5 } as never,
      ground: { grain },
    })
    const { score, improvements } = await findBetter(brush, BUILT_IN.dunlin, {}, options)
    expect(score).toBeCloseTo((await findBestFit(brush, BUILT_IN.dunlin, {}, options)).likeness.score, 9)
    expect(improvements.length).toBeGreaterThan(0)
    for (const [i, improvement] of improvements.entries()) {
      expect(improvement.score).toBeGreaterThanOrEqual(score + 1)
      expect(improvement.score).toBeLessThanOrEqual(improvements[i - 1]?.score ?? 100)
      const without = doWithout(brush, improvement.thing)
      const alone = without && (await findBestFit(without, BUILT_IN.dunlin, {}, options))
      expect(alone?.likeness.score).toBeCloseTo(improvement.score, 9)
    }
  })

  it('is nothing where all of it arrives', async () => {
    const plain = brushOf([leaf(60, 40)], 'light', 40)
    expect((await findBetter(plain, BUILT_IN.sanderling, {}, options)).improvements).toEqual([])
  })

  it('leaves a whole brush, whatever it does without', () => {
    for (const { name } of CARRY_ROWS) {
      const without = doWithout(full, name)
      if (without) expect(v.safeParse(RecipeSchema, without.recipe).success, name).toBe(true)
    }
    expect(doWithout(full, 'name')).toBeUndefined()
    expect(doWithout(full, 'frames')?.frames).toHaveLength(1)
  })
})
