// Runs in Chromium: rotated stamps of a 256 px tip on 2048 x 1024, ours against Canvas2D drawImage.
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import { prepareFrame } from '../../core/src/stroke/levels.ts'
import { StampStroke } from '../../core/src/stroke/stamp-stroke.ts'
import { STAMP_STRIDE } from '../../core/src/stroke/stamps.ts'
import { cosSinDeg } from '../../core/src/stroke/trig.ts'

const [WIDTH, HEIGHT, SIDE, STAMPS, ROUNDS] = [2048, 1024, 256, 400, 11]

/** A soft blot, as a mask for us and as white with alpha for the canvas. */
function makeTip() {
  const mask = new Uint8Array(SIDE * SIDE)
  for (let i = 0; i < mask.length; i++) {
    const [x, y] = [(i % SIDE) - SIDE / 2, Math.floor(i / SIDE) - SIDE / 2]
    mask[i] = Math.max(
      0,
      Math.round(255 * (1 - Math.hypot(x, y) / (SIDE / 2)) * (0.6 + 0.4 * Math.sin(x / 9) * Math.cos(y / 7))),
    )
  }
  return mask
}

function placements(): { x: number; y: number; deg: number }[] {
  return Array.from({ length: STAMPS }, (_, n) => ({
    x: 200 + ((n * 379) % (WIDTH - 400)),
    y: 180 + ((n * 211) % (HEIGHT - 360)),
    deg: (n * 37) % 360,
  }))
}

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1] ?? 0

function run() {
  const mask = makeTip()
  const places = placements()
  const recipe = defaultRecipe({ sizePx: SIDE, reading: 'light' })
  const stamps = new Float64Array(STAMPS * STAMP_STRIDE)
  const turn = new Float64Array(2)
  places.forEach(({ x, y, deg }, n) => {
    cosSinDeg(deg, turn)
    stamps.set([x, y, 1, turn[0] ?? 1, turn[1] ?? 0, 1, 0.3, 0], n * STAMP_STRIDE)
  })
  const frames = [prepareFrame({ width: SIDE, height: SIDE, channels: 1, data: mask })]
  const painter = (kernel: 'simd' | 'plain') =>
    new StampStroke({
      width: WIDTH,
      height: HEIGHT,
      brush: { frames },
      recipe,
      seed: 1,
      colour: { r: 0, g: 0, b: 0 },
      kernel,
    })
  const [simd, plain] = [painter('simd'), painter('plain')]

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
  const drawImages = () => {
    context.globalAlpha = 0.3
    for (const { x, y, deg } of places) {
      cosSinDeg(deg, turn)
      context.setTransform(turn[0] ?? 1, turn[1] ?? 0, -(turn[1] ?? 0), turn[0] ?? 1, x, y)
      context.drawImage(tip, -SIDE / 2, -SIDE / 2)
    }
    context.getImageData(0, 0, 1, 1) // waits until the stamps are really drawn
  }
  const time = (work: () => void) => {
    const start = performance.now()
    work()
    return performance.now() - start
  }
  const times = { simd: [] as number[], plain: [] as number[], canvas: [] as number[] }
  for (let round = -2; round < ROUNDS; round++) {
    const now = {
      simd: time(() => simd.stamp(stamps)),
      plain: time(() => plain.stamp(stamps)),
      canvas: time(drawImages),
    }
    if (round < 0) continue
    times.simd.push(now.simd)
    times.plain.push(now.plain)
    times.canvas.push(now.canvas)
  }
  const perSecond = (values: number[]) => STAMPS / (median(values) / 1000)
  return { simd: perSecond(times.simd), plain: perSecond(times.plain), canvas: perSecond(times.canvas) }
}

Object.assign(globalThis, { runStamps: run })
