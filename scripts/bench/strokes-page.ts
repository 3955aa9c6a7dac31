// Runs in Chromium: stamps against Canvas2D drawImage and a bare blit, and whole strokes as the page paints them.
import type { PixelSha } from '@satchel/core/hashes'
import { defaultRecipe, type Recipe } from '../../core/src/brush/recipe.ts'
import { prepareGrain } from '../../core/src/grain/prepare-grain.ts'
import type { Pixels } from '../../core/src/raster/pixels.ts'
import { createSurface } from '../../core/src/raster/surface.ts'
import { renderGauge } from '../../core/src/render/render.ts'
import { createStroke } from '../../core/src/stroke/create-stroke.ts'
import { prepareFrame } from '../../core/src/stroke/levels.ts'
import { cosSinDeg } from '../../core/src/stroke/path/trig.ts'
import { prepareBrush } from '../../core/src/stroke/prepare-brush.ts'
import { StampStroke } from '../../core/src/stroke/stamp/stamp-stroke.ts'
import { STAMP_STRIDE } from '../../core/src/stroke/stamp/stamps.ts'
import type { PreparedBrush } from '../../core/src/stroke/stroke.ts'
import { cut } from '../../web/src/workers/stroke/cut-paste.ts'

/** Stamps a second, and times in ms. */
export type StrokeTimes = {
  simd: number
  plain: number
  canvas: number
  blits: number
  colour: number
  shaped: number
  liveMs: number
  gaugeMs: number
}

const [WIDTH, HEIGHT, SIDE, STAMPS, ROUNDS] = [2048, 1024, 256, 400, 11]
const SCALE = 0.9
const BLACK = { r: 0, g: 0, b: 0 }

/** A soft blot. */
function makeTip(side: number): Uint8Array {
  return Uint8Array.from({ length: side * side }, (_, i) => {
    const [x, y] = [(i % side) - side / 2, Math.floor(i / side) - side / 2]
    const shade = (1 - Math.hypot(x, y) / (side / 2)) * (0.6 + 0.4 * Math.sin(x / 9) * Math.cos(y / 7))
    return Math.max(0, Math.round(255 * shade))
  })
}

function makeColourTip(side: number, hue: number): Pixels {
  const mask = makeTip(side)
  const data = new Uint8Array(side * side * 4)
  for (const [i, alpha] of mask.entries()) data.set([(i + hue) % 256, (i >> 4) % 256, hue, alpha], i * 4)
  return { width: side, height: side, channels: 4, data }
}

const places = Array.from({ length: STAMPS }, (_, n) => ({
  x: 200 + ((n * 379) % (WIDTH - 400)),
  y: 180 + ((n * 211) % (HEIGHT - 360)),
  deg: (n * 37) % 360,
}))
const turn = new Float64Array(2)

function placeStamps(): Float64Array {
  const stamps = new Float64Array(STAMPS * STAMP_STRIDE)
  places.forEach(({ x, y, deg }, n) => {
    cosSinDeg(deg, turn)
    stamps.set([x, y, SCALE, turn[0] ?? 1, turn[1] ?? 0, 1, 0.3, 0, (n % 40) - 20, 5, -8, n / STAMPS], n * STAMP_STRIDE)
  })
  return stamps
}

const sorted = (values: number[]) => [...values].sort((a, b) => a - b)
const median = (values: number[]) => sorted(values)[values.length >> 1] ?? 0
const time = (work: () => void) => {
  const start = performance.now()
  work()
  return performance.now() - start
}

function createDrawImages(mask: Uint8Array): () => void {
  const tip = new OffscreenCanvas(SIDE, SIDE)
  const pixels = new ImageData(SIDE, SIDE)
  mask.forEach((alpha, i) => {
    pixels.data[i * 4 + 3] = alpha
  })
  tip.getContext('2d')?.putImageData(pixels, 0, 0)
  const canvas = document.createElement('canvas')
  canvas.width = WIDTH
  canvas.height = HEIGHT
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) throw new Error('no canvas')
  return () => {
    context.globalAlpha = 0.3
    for (const { x, y, deg } of places) {
      cosSinDeg(deg, turn)
      const [cos, sin] = [SCALE * (turn[0] ?? 1), SCALE * (turn[1] ?? 0)]
      context.setTransform(cos, sin, -sin, cos, x, y)
      context.drawImage(tip, -SIDE / 2, -SIDE / 2)
    }
    context.getImageData(0, 0, 1, 1) // waits until the stamps are really drawn
  }
}

/** As many pixels as the scaled stamps hold, upright, in whole px. */
function createBlits(bytes: number[], mask: Uint8Array): () => void {
  const side = Math.round((SIDE * SCALE) / 8) * 8
  const tipAt = 1024
  const layerAt = tipAt + side * side
  const memory = new WebAssembly.Memory({ initial: Math.ceil((layerAt + WIDTH * HEIGHT * 2) / 65_536) })
  new Uint8Array(memory.buffer).set(mask.subarray(0, side * side), tipAt)
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(Uint8Array.from(bytes)), { env: { memory } })
  const blit = exports.blit as (...args: number[]) => void
  return () => {
    for (const { x, y } of places) blit(layerAt, WIDTH, tipAt, side, side, x - (side >> 1), y - (side >> 1), 9830)
  }
}

const recipeOf = (change: (recipe: Recipe) => void): Recipe => {
  const recipe = defaultRecipe({ sizePx: SIDE, reading: 'light' })
  change(recipe)
  return recipe
}

/** A free stroke as the page paints it: new samples each frame, stamps, composite, the changed part cut out and sent. */
function paintLive(): number[] {
  const recipe = recipeOf((r) => {
    r.mark.sizePx = 512
    r.path.spacingPct = 10
    r.path.nextFrame = [{ rule: 'random', frames: 4 }]
    r.colour.reading = 'own'
    r.mark.angle.mode = 'following'
  })
  const [width, height] = [1400, 900]
  const brush = prepareBrush({ frames: [0, 60, 120, 180].map((hue) => makeColourTip(512, hue)) }, recipe, BLACK)
  const base = createSurface(width, height, { r: 250, g: 250, b: 250 })
  const stroke = createStroke({ width, height, brush, recipe, seed: 1, colour: BLACK })
  const times: number[] = []
  for (let frame = 0; frame < 150; frame++) {
    // a calm hand: 1.2 px a ms, eight samples a frame
    const samples = Float64Array.from(
      Array.from({ length: 8 }, (_, k) => {
        const t = frame * 8 + k
        return [700 + 500 * Math.cos(t / 200), 450 + 300 * Math.sin(t / 130), 0.7, 0, 0, t * 2]
      }).flat(),
    )
    times.push(
      time(() => {
        const area = stroke.add(samples)
        if (!area) return
        const size = { width: area.right - area.left, height: area.bottom - area.top }
        stroke.compositeOnto({ data: cut(base, area), ...size, ...area })
      }),
    )
  }
  return times.slice(10)
}

function run(blitBytes: number[]): StrokeTimes {
  const mask = makeTip(SIDE)
  const stamps = placeStamps()
  const frames = [prepareFrame({ width: SIDE, height: SIDE, channels: 1, data: mask })]
  const colourFrames = [prepareFrame(makeColourTip(SIDE, 40))]
  const grain = prepareGrain(
    { width: 128, height: 128, channels: 1, data: makeTip(128) },
    { strength: 0.8, brightness: 0, contrast: 0 },
  )
  const paint = (brush: PreparedBrush, recipe: Recipe, kernel: 'simd' | 'plain' = 'simd') => {
    const stroke = new StampStroke({ width: WIDTH, height: HEIGHT, brush, recipe, seed: 1, colour: BLACK, kernel })
    return () => stroke.stamp(stamps)
  }
  const plainRecipe = recipeOf(() => undefined)
  const shapedRecipe = recipeOf((r) => {
    r.variation.hue = 0.2
    r.ground.grain = {
      sha256: '0'.repeat(64) as PixelSha,
      anchor: 'stamp',
      scalePct: 80,
      strength: 0.8,
      brightness: 0,
      contrast: 0,
      randomTurn: 'stamp',
    }
  })
  const works = {
    simd: paint({ frames }, plainRecipe),
    plain: paint({ frames }, plainRecipe, 'plain'),
    canvas: createDrawImages(mask),
    blits: createBlits(blitBytes, mask),
    colour: paint({ frames: colourFrames }, plainRecipe),
    shaped: paint({ frames: colourFrames, grain }, shapedRecipe),
  }
  const times = Object.fromEntries(Object.keys(works).map((name) => [name, [] as number[]]))
  for (let round = -2; round < ROUNDS; round++) {
    for (const [name, work] of Object.entries(works)) {
      const taken = time(work)
      if (round >= 0) times[name]?.push(taken)
    }
  }
  const perSecond = (name: keyof typeof works) => STAMPS / (median(times[name] ?? []) / 1000)
  const tip512 = { width: 512, height: 512, channels: 1 as const, data: makeTip(512) }
  const gaugeRecipe = recipeOf((r) => {
    r.mark.sizePx = 120
    r.path.spacingPct = 10
  })
  const gauge = prepareBrush({ frames: [tip512] }, gaugeRecipe, BLACK)
  const gaugeTimes = Array.from({ length: 12 }, () =>
    time(() => renderGauge(gauge, gaugeRecipe, { width: 1000, height: 640 })),
  )
  const live = sorted(paintLive())
  return {
    simd: perSecond('simd'),
    plain: perSecond('plain'),
    canvas: perSecond('canvas'),
    blits: perSecond('blits'),
    colour: perSecond('colour'),
    shaped: perSecond('shaped'),
    liveMs: live[Math.floor(live.length * 0.95)] ?? 0,
    gaugeMs: median(gaugeTimes),
  }
}

Object.assign(globalThis, { runStrokes: run })
