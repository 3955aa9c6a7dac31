import { type AngleMode, defaultRecipe, type PaintReading, type Recipe } from '@satchel/core/brush/recipe'
import type { PixelSha } from '@satchel/core/hashes'
import type { Pixels } from '@satchel/core/raster/pixels'
import { createNoise, type Ink } from './ink.ts'

export type DrawnBrush = {
  set: string
  name: string
  tags: string[]
  frames: Pixels[]
  recipe: Recipe
  /** The name of its grain among the demo's; its settings stand in the recipe. */
  grain?: string
}

type Tuning = {
  size?: number
  spacing?: number
  angle?: AngleMode
  turn?: number
  jitter?: { size?: number; angle?: number; opacity?: number }
  scatter?: number
  flow?: number
  opacity?: number
  squash?: number
  pressure?: 'size' | 'opacity' | 'both'
  rule?: Recipe['path']['nextFrame'][number]['rule']
  ribbon?: Recipe['path']['ribbon']
  taper?: Recipe['path']['taper']
  behaviour?: Recipe['colour']['behaviour']
  blend?: Recipe['colour']['blend']
  anchor?: number
  vary?: Partial<Pick<Recipe['variation'], 'hue' | 'saturation' | 'value'>>
  grain?: {
    name: string
    scale?: number
    strength?: number
    contrast?: number
    anchor?: 'canvas' | 'stroke' | 'stamp'
    turn?: 'stroke' | 'stamp'
  }
}

const SOFT_RISE: [number, number][] = [
  [0, 0.15],
  [0.5, 0.6],
  [1, 1],
]

export function tune(reading: PaintReading, frames: number, t: Tuning): Recipe {
  const base = defaultRecipe({ sizePx: t.size ?? 64, reading, frames })
  const pressure = {
    ...(t.pressure === 'size' || t.pressure === 'both' ? { size: SOFT_RISE } : {}),
    ...(t.pressure === 'opacity' || t.pressure === 'both' ? { opacity: SOFT_RISE } : {}),
  }
  return {
    ...base,
    mark: { ...base.mark, angle: { mode: t.angle ?? 'fixed', deg: t.turn ?? 0 }, squash: t.squash ?? 1 },
    path: {
      ...base.path,
      spacingPct: t.spacing ?? 20,
      scatter: { acrossPct: t.scatter ?? 0, alongPct: 0 },
      nextFrame: [{ rule: t.rule ?? 'inOrder', frames }],
      ...(t.taper ? { taper: t.taper } : {}),
      ...(t.ribbon ? { ribbon: t.ribbon } : {}),
    },
    variation: {
      ...base.variation,
      size: t.jitter?.size ?? 0,
      angle: t.jitter?.angle ?? 0,
      opacity: t.jitter?.opacity ?? 0,
      ...t.vary,
    },
    hand: { ...base.hand, pressure },
    ground: t.grain ? { grain: grainOf(t.grain) } : {},
    colour: {
      ...base.colour,
      flow: t.flow ?? 1,
      opacity: t.opacity ?? 1,
      behaviour: t.behaviour ?? 'paint',
      blend: t.blend ?? 'normal',
      anchorGrey: t.anchor ?? base.colour.anchorGrey,
    },
  }
}

/** The seed puts the pixels' name in, once they are stored. */
const UNNAMED = '0'.repeat(64) as PixelSha

function grainOf({
  scale,
  strength,
  contrast,
  anchor,
  turn,
}: NonNullable<Tuning['grain']>): NonNullable<Recipe['ground']['grain']> {
  return {
    sha256: UNNAMED,
    anchor: anchor ?? 'canvas',
    scalePct: scale ?? 50,
    strength: strength ?? 0.85,
    brightness: 0,
    contrast: contrast ?? 0.2,
    randomTurn: turn ?? 'none',
  }
}

export const paper = (ink: Ink) => ink.toPaper()
export const mask = (ink: Ink) => ink.toMask()
export const alpha = (ink: Ink) => ink.toColour(() => [20, 24, 26])
export const tinted = (seed: number, dark: [number, number, number], light: [number, number, number]) => {
  const noise = createNoise(seed, 18)
  return (ink: Ink) =>
    ink.toColour((x, y) => {
      const t = noise(x, y)
      return [0, 1, 2].map((c) => Math.round((dark[c] ?? 0) + ((light[c] ?? 0) - (dark[c] ?? 0)) * t)) as [
        number,
        number,
        number,
      ]
    })
}

export const times = (count: number, make: (k: number) => Ink): Ink[] =>
  Array.from({ length: count }, (_, k) => make(k))

/** Gives, for a set, the function that adds brushes to it. */
export const collector =
  (brushes: DrawnBrush[]) =>
  (set: string) =>
  (name: string, tags: string, reading: PaintReading, inks: Ink | Ink[], toPixels: (ink: Ink) => Pixels, t: Tuning) => {
    const frames = (Array.isArray(inks) ? inks : [inks]).map(toPixels)
    const grain = t.grain ? { grain: t.grain.name } : {}
    brushes.push({ set, name, tags: tags.split(' '), frames, recipe: tune(reading, frames.length, t), ...grain })
  }
