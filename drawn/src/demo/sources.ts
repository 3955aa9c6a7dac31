import { joinBytes } from '@satchel/core/formats/bytes'
import { toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { toPenSvg } from '@satchel/core/make/pen-drawing'
import type { Way } from '@satchel/core/make/ways'
import type { Written } from '@satchel/core/make/written'
import type { Pixels } from '@satchel/core/raster/pixels'
import { encodePng } from '@satchel/node/png'
import { clamp, createDraw, createNoise, Ink } from '../ink.ts'
import { feather, frond, scallop, valve, whorl } from '../motifs.ts'
import { DEMO_LETTERS, drawWords } from './words.ts'

const WORDS = 'Spindrift'

/** A motif laid on a photographed ground: where its middle lies, px, and its turn. */
type Laid = { ink: Ink; x: number; y: number; turnDeg: number; scale: number }
type Photo = {
  width: number
  height: number
  laid: readonly Laid[]
  paint: readonly [number, number, number]
  ground: readonly [number, number, number]
  seed: number
}

/** A photograph, drawn by code: paper lit from one side, a soft shadow over a corner, grain of the film. */
function photograph({ width, height, laid, paint, ground, seed }: Photo): Pixels {
  const draw = createDraw(seed)
  const fibre = createNoise(seed + 1, 9)
  const cloud = createNoise(seed + 2, 260)
  const cover = new Float32Array(width * height)
  for (const each of laid) layOn(cover, width, height, each)
  const data = new Uint8Array(width * height * 4)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const light =
        0.8 + 0.2 * (x / width) - 0.16 / (1 + Math.exp((width * 0.3 - x + y * 0.4) / -60)) + 0.05 * cloud(x, y)
      const grain = 5 * (draw() - 0.5) + 7 * (fibre(x, y) - 0.5)
      const share = cover[i] ?? 0
      for (const c of [0, 1, 2] as const)
        data[4 * i + c] = Math.min(255, Math.max(0, (ground[c] + (paint[c] - ground[c]) * share) * light + grain))
      data[4 * i + 3] = 255
    }
  return { width, height, channels: 4, data }
}

function layOn(cover: Float32Array, width: number, height: number, { ink, x, y, turnDeg, scale }: Laid): void {
  const turn = (turnDeg * Math.PI) / 180
  const reach = (scale * Math.hypot(ink.width, ink.height)) / 2
  for (let py = Math.max(0, Math.floor(y - reach)); py < Math.min(height, y + reach); py++)
    for (let px = Math.max(0, Math.floor(x - reach)); px < Math.min(width, x + reach); px++) {
      const [dx, dy] = [(px - x) / scale, (py - y) / scale]
      const ix = Math.floor(dx * Math.cos(turn) + dy * Math.sin(turn) + ink.width / 2)
      const iy = Math.floor(dy * Math.cos(turn) - dx * Math.sin(turn) + ink.height / 2)
      if (ix < 0 || iy < 0 || ix >= ink.width || iy >= ink.height) continue
      const i = py * width + px
      cover[i] = Math.max(cover[i] ?? 0, ink.cover[iy * ink.width + ix] ?? 0)
    }
}

/** A drawing of a crab in layers, as OpenRaster: its parts, a hidden sketch, and a group. */
function crabDrawing(): Uint8Array {
  const [width, height] = [460, 340]
  const part = (seed: number, place: (ink: Ink) => Ink) => {
    const wear = createNoise(seed, 7)
    return place(new Ink(width, height))
      .wear((x, y) => 0.75 + 0.5 * wear(x, y))
      .toColour(() => [38, 34, 32])
  }
  const claw = (side: -1 | 1) => (ink: Ink) =>
    ink
      .line((t) => [230 + side * (70 + 100 * t), 150 - 60 * Math.sin(t * 2.4)], { radius: (t) => 10 + 14 * t })
      .dab(230 + side * 178, 112, 30, { soft: 0.15 })
  const parts: [name: string, pixels: Pixels, attributes: string][] = [
    ['Left claw', part(81, claw(-1)), ''],
    ['Right claw', part(82, claw(1)), ''],
    [
      'Shell',
      part(83, (ink) =>
        ink.line((t) => [150 + 160 * t, 205 - 22 * Math.sin(Math.PI * t)], {
          radius: (t) => 30 + 34 * Math.sin(Math.PI * t),
          soft: 0.1,
        }),
      ),
      '',
    ],
    ['Sketch', part(84, (ink) => ink.dab(230, 190, 150, { alpha: 0.3 })), ' visibility="hidden"'],
  ]
  const layer = ([name, , attributes]: (typeof parts)[number], i: number) =>
    `<layer name="${name}" src="data/${i}.png" x="0" y="0" composite-op="svg:src-over"${attributes}/>`
  const [left = '', right = '', ...others] = parts.map(layer)
  const stack = `<?xml version="1.0" encoding="UTF-8"?>
<image version="0.0.3" w="${width}" h="${height}"><stack><stack name="Claws">${left}${right}</stack>${others.join('')}</stack></image>`
  const zip = new ZipWriter()
  const pieces = [
    ...zip.add('mimetype', toUtf8('image/openraster'), 'store'),
    ...zip.add('stack.xml', toUtf8(stack), 'deflate'),
    ...parts.flatMap(([, pixels], i) => zip.add(`data/${i}.png`, encodePng(pixels), 'store')),
    ...zip.finish(),
  ]
  return joinBytes(pieces)
}

/** A winkle's shell as an OBJ: a tube that widens along a spiral. */
function winkleModel(): Uint8Array {
  const [turns, along, around] = [4.2, 260, 40]
  const lines: string[] = ['# a winkle, drawn by code']
  for (let i = 0; i <= along; i++)
    for (let k = 0; k < around; k++) {
      const t = i / along
      const angle = t * turns * 2 * Math.PI
      const grown = 0.08 + t ** 2.2
      const rim = (k / around) * 2 * Math.PI
      const ridge = 1 + 0.06 * Math.cos(angle * 9)
      const out = grown * (0.72 + 0.5 * ridge * Math.cos(rim))
      lines.push(
        `v ${(out * Math.cos(angle)).toFixed(5)} ${(1.1 - 1.9 * t ** 1.1 + 0.55 * grown * Math.sin(rim)).toFixed(5)} ${(out * Math.sin(angle)).toFixed(5)}`,
      )
    }
  const at = (i: number, k: number) => i * around + (k % around) + 1
  for (let i = 0; i < along; i++)
    for (let k = 0; k < around; k++) lines.push(`f ${at(i, k)} ${at(i, k + 1)} ${at(i + 1, k + 1)} ${at(i + 1, k)}`)
  return toUtf8(`${lines.join('\n')}\n`)
}

/** What lies on the demo's workbench: a way to begin each. */
export const demoSources = async (): Promise<{ name: string; way: Way; picture: Pixels; written?: Written }[]> => [
  {
    name: 'Gull feather on paper',
    way: 'picture',
    picture: photograph({
      width: 1310,
      height: 870,
      paint: [58, 52, 50],
      ground: [236, 230, 216],
      seed: 71,
      laid: [{ ink: feather(11, { width: 768, height: 300, barbs: 170 }), x: 640, y: 440, turnDeg: -18, scale: 1.3 }],
    }),
  },
  {
    name: 'Kelp blade on blue',
    way: 'picture',
    picture: photograph({
      width: 1190,
      height: 790,
      paint: [222, 196, 96],
      ground: [46, 92, 168],
      seed: 72,
      laid: [{ ink: frond(5, { width: 768, height: 256 }), x: 600, y: 400, turnDeg: 12, scale: 1.25 }],
    }),
  },
  {
    name: 'Sea star, half an arm',
    way: 'ornament',
    picture: photograph({
      width: 420,
      height: 610,
      paint: [64, 54, 50],
      ground: [238, 233, 222],
      seed: 74,
      laid: [{ ink: halfArm(), x: 210, y: 305, turnDeg: 0, scale: 1 }],
    }),
  },
  {
    name: 'Shells from the tide line',
    way: 'sheet',
    picture: photograph({
      width: 1410,
      height: 930,
      paint: [70, 58, 54],
      ground: [232, 228, 220],
      seed: 73,
      laid: Array.from({ length: 8 }, (_, i) => ({
        ink: [scallop(31 + i), whorl(31 + i), valve(31 + i)][i % 3] ?? scallop(i),
        x: 200 + (i % 4) * 335 + ((i * 37) % 29),
        y: 250 + Math.floor(i / 4) * 420 + ((i * 53) % 41),
        turnDeg: (i * 47) % 80,
        scale: 0.85 + ((i * 3) % 5) / 12,
      })),
    }),
  },
  {
    name: WORDS,
    way: 'picture',
    picture: await drawWords(WORDS),
    written: { words: WORDS, ...DEMO_LETTERS },
  },
]

/** Half an arm of a sea star, its right side the axis. */
const halfArm = (): Ink =>
  new Ink(180, 420).fill((x, y) => {
    const t = y / 420
    const reach = 170 * Math.sin(Math.PI * t ** 0.7) * (0.4 + 0.6 * t)
    const ribs = 0.62 + 0.38 * Math.cos((180 - x) / 9 - t * 16)
    return clamp((reach - (180 - x)) / 3) * ribs
  })

/** Half a sprig of samphire as a pen drew it: a stem, and shoots that grow thinner towards their ends. */
function penDrawing(): Uint8Array {
  const draw = createDraw(75)
  const along = (at: (t: number) => [x: number, y: number], pressure: (t: number) => number) =>
    Array.from({ length: 24 }, (_, i) => {
      const t = i / 23
      const [x, y] = at(t)
      return { x: x + 0.003 * (draw() - 0.5), y, pressure: pressure(t) }
    })
  const stem = along(
    (t) => [0.9 + 0.04 * Math.sin(3 * t), 0.95 - 0.85 * t],
    (t) => 1.5 - 0.9 * t,
  )
  const shoots = [0.1, 0.26, 0.42, 0.58, 0.74].map((at) => {
    const long = 0.62 * (1 - 0.6 * at)
    return along(
      (t) => [0.9 - long * t, 0.95 - 0.85 * at - long * (0.25 + 0.4 * t) * t],
      (t) => 1.3 * (1 - 0.75 * t),
    )
  })
  return toUtf8(toPenSvg([stem, ...shoots].map((points) => ({ points, width: 0.05 }))))
}

/** What comes as a file that is more than a picture. */
export const demoFiles = (): { name: string; way: Way; file: string; bytes: Uint8Array }[] => [
  { name: 'Samphire, by pen', way: 'ornament', file: 'samphire.svg', bytes: penDrawing() },
  { name: 'Shore crab in layers', way: 'layers', file: 'shore-crab.ora', bytes: crabDrawing() },
  { name: 'Winkle, turned', way: 'model', file: 'winkle.obj', bytes: winkleModel() },
]
