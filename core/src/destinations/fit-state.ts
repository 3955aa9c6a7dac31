import type { PartName } from '../brush/parts.ts'
import type { Recipe } from '../brush/recipe.ts'
import { LimitError } from '../errors.ts'
import { ANIMATION_PIXELS_MAX, checkPictureSize } from '../limits.ts'
import type { Pixels } from '../raster/pixels.ts'
import { createPixels, toRgba } from '../raster/pixels.ts'
import { scalePixels } from '../raster/scale.ts'
import type { Destination } from './destination.ts'

/** A brush with its pictures, on its way to a destination. */
export type FitBrush = {
  name: string
  set: string
  maker: string
  licence: string
  frames: readonly Pixels[]
  grain?: { name: string; pixels: Pixels } | undefined
  recipe: Recipe
}

/** What besides parts of the recipe may change on the way. */
export type Thing = PartName | 'name' | 'frames' | 'picture'
/** Something that arrives otherwise than it was, or not at all. */
export type Carried = { thing: Thing; called: string; how?: string }

/** A question with several answers, of which likeness or the curator picks one. */
export type FitWay = {
  name: WayName
  called: string
  options: readonly { value: string; label: string }[]
  chosen: string
}

/** The questions that a destination may raise, in the order in which they come, and what they are called. */
export const WAY_QUESTIONS = {
  ribbon: 'The ribbon',
  reading: 'How pixels become paint',
  frames: 'Several pictures',
  variation: 'What varies at random',
  grain: 'The grain',
  size: 'The size of the picture',
  circle: 'The corners outside the circle',
} as const
export type WayName = keyof typeof WAY_QUESTIONS
export type Choices = Partial<Record<WayName, string>>

/** Answers as they were stored, by whichever release: of questions that are asked no more, nothing is left. Never throws. */
export function parseChoices(stored: unknown): Choices {
  const choices: Choices = {}
  for (const [name, answer] of Object.entries(stored ?? {}))
    if (name in WAY_QUESTIONS && typeof answer === 'string') choices[name as WayName] = answer
  return choices
}

/** The work of one plan: what the brush has become so far, and what had to be said. */
export class Fitting {
  frames: Pixels[]
  grain: FitBrush['grain']
  recipe: Recipe
  readonly approximated: Carried[] = []
  readonly left: Carried[] = []
  readonly ways: FitWay[] = []
  readonly brush: FitBrush
  readonly destination: Destination
  readonly #choices: Choices

  constructor(brush: FitBrush, destination: Destination, choices: Choices) {
    this.brush = brush
    this.destination = destination
    this.#choices = choices
    this.frames = [...brush.frames]
    this.grain = brush.grain
    this.recipe = brush.recipe
  }

  /** Whether the destination knows a part, or a kind of it. */
  knows(part: PartName, kind?: string): boolean {
    const said = this.destination.knows[part]
    if (typeof said === 'boolean' || kind === undefined) return said !== false
    return Array.isArray(said) ? said.includes(kind) : true
  }

  /** Answers a question: as chosen, or with the first answer. */
  choose<const Value extends string>(name: WayName, options: readonly { value: Value; label: string }[]): Value {
    const wanted = this.#choices[name]
    const { value } = options.find((option) => option.value === wanted) ?? options[0]
    this.ways.push({ name, called: WAY_QUESTIONS[name], options, chosen: value })
    return value
  }

  approximate(thing: Thing, called: string, how: string): void {
    this.approximated.push({ thing, called, how })
  }

  leave(thing: Thing, called: string, how?: string): void {
    this.left.push(how === undefined ? { thing, called } : { thing, called, how })
  }

  /** Whether it is said of a part already how it arrives, or that it does not. */
  isTold(part: Thing): boolean {
    return [...this.approximated, ...this.left].some(({ thing }) => thing === part)
  }

  change(change: (recipe: Recipe) => Recipe): void {
    this.recipe = change(this.recipe)
  }

  /** Gives every frame another canvas, its mark in the middle, and refits size and spacing: marks stay as wide and as far apart. */
  reframe(width: number, height: number): void {
    const [before] = this.frames
    const ground = groundOf(this.recipe)
    this.checkRoom(this.frames.map(() => ({ width, height })))
    this.frames = this.frames.map((frame) => onCanvas(frame, width, height, ground))
    this.refit(before, { width, height })
  }

  /** Brings frames to one longer side, since each is painted with its longer side as large as the brush. */
  levelFrames(): void {
    const side = (frame: Pixels) => Math.max(frame.width, frame.height)
    const most = Math.max(...this.frames.map(side))
    this.scaleFrames((frame) => most / side(frame))
  }

  /** Scales every frame by a factor of its own; 1 leaves it as it is. */
  scaleFrames(factorOf: (frame: Pixels) => number): void {
    const scaled = (px: number, factor: number) => Math.max(1, Math.round(px * factor))
    this.checkRoom(
      this.frames.map((frame) => ({
        width: scaled(frame.width, factorOf(frame)),
        height: scaled(frame.height, factorOf(frame)),
      })),
    )
    this.frames = this.frames.map((frame) => {
      const factor = factorOf(frame)
      return factor === 1 ? frame : scalePixels(frame, factor)
    })
  }

  /**
   * Asked before pictures of so many sizes are made: a description may want any size for any number of them.
   * @throws {LimitError} If one of them, or all together, would be larger than is taken.
   */
  checkRoom(sizes: readonly { width: number; height: number }[]): void {
    let pixels = 0
    for (const { width, height } of sizes) {
      checkPictureSize(width, height)
      pixels += width * height
    }
    if (pixels > ANIMATION_PIXELS_MAX)
      throw new LimitError('the pixel count of all its pictures there', pixels, ANIMATION_PIXELS_MAX)
  }

  /** Size and spacing of the same stroke, where a picture of one size stands for one of another, scaled by so much. */
  refit(before: { width: number; height: number }, after: { width: number; height: number }, scale = 1): void {
    if (this.recipe.path.ribbon) return
    const sideFactor = Math.max(after.width, after.height) / Math.max(before.width, before.height) / scale
    const widthFactor = (after.width / before.width) * (1 / scale)
    this.change((recipe) => ({
      ...recipe,
      mark: { ...recipe.mark, sizePx: recipe.mark.sizePx * sideFactor },
      path: {
        ...recipe.path,
        spacingPct: recipe.path.spacingPct / widthFactor,
        scatter: {
          acrossPct: recipe.path.scatter.acrossPct / widthFactor,
          alongPct: recipe.path.scatter.alongPct / widthFactor,
        },
      },
    }))
  }
}

/** What does not paint, in the reading of a recipe: a grey, or nothing. */
export const groundOf = ({ colour }: Recipe): number | undefined =>
  colour.reading === 'dark' ? 255 : colour.reading === 'light' ? 0 : undefined

/** A picture in the middle of a larger canvas. */
export function onCanvas(pixels: Pixels, width: number, height: number, ground: number | undefined): Pixels {
  const from = ground === undefined ? toRgba(pixels) : pixels
  const { channels } = from
  if (from.width === width && from.height === height) return from
  const out = createPixels(width, height, channels)
  if (ground !== undefined && channels === 1) out.data.fill(ground)
  const left = Math.floor((width - from.width) / 2)
  const top = Math.floor((height - from.height) / 2)
  for (let y = 0; y < from.height; y++) {
    const toY = y + top
    if (toY < 0 || toY >= height) continue
    const fromX = Math.max(0, -left)
    const count = Math.min(from.width - fromX, width - Math.max(0, left))
    const start = (y * from.width + fromX) * channels
    out.data.set(from.data.subarray(start, start + count * channels), (toY * width + Math.max(0, left)) * channels)
  }
  return out
}
