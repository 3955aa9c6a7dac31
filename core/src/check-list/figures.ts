import type { Recipe } from '../brush/recipe.ts'
import { THUMBNAIL_SIZE, type Thumbnail } from '../brush/thumbnail.ts'
import { findAlikeFrames } from '../frames/alike-frames.ts'
import { compareFrames, describeFrames, measureFrame } from '../frames/measure-frames.ts'
import { findGreyShadow } from '../frames/shadow.ts'
import { isBlank } from '../raster/blank.ts'
import type { Pixels } from '../raster/pixels.ts'
import { renderGauge } from '../render/render.ts'
import { renderThumbnail } from '../render/thumbnail.ts'
import { createHandFactors } from '../stroke/path/hand-factors.ts'
import { SAMPLE, SAMPLE_STRIDE } from '../stroke/path/samples.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'

/** Counts the ways in which brushes were measured: another way finds its figures anew. */
export const FIGURES_VERSION = 1

/** What is measured of one brush, by its pixels and its recipe alone; frames are counted from 1. */
export type BrushFigures = {
  /** The longest side of its frames, px. */
  sidePx: number
  /** The share, 0…1, of the picture of all frames that the box around what paints takes. */
  filled: number
  /** Frames that paint nothing. */
  blank: number[]
  /** Frames that its rules never pick. */
  unreached: number[]
  /** Groups of frames that look the same. */
  same: number[][]
  /** How frames stand out from the others, in words. */
  uneven: string[]
  /** Frames with a grey shadow, which takes on the colour one paints with. */
  shadows: number[]
  /** By how many of 255 levels its gauge strokes differ from the paper where they do most; absent of what does not paint. */
  shows: number | null
  /** Whether the thumbnail that follows its stroke or a frame shows nothing. */
  isThumbnailBlank: boolean
}

type Measured = { frames: readonly Pixels[]; grain?: Pixels | undefined; recipe: Recipe; thumbnail: Thumbnail }

/** Measures a brush for check lists. Its pixels are held to the limits of stored pictures; takes as long as a gauge stroke. */
export function measureBrush({ frames, grain, recipe, thumbnail }: Measured): BrushFigures {
  const { reading } = recipe.colour
  const facts = frames.map((frame) => measureFrame(frame, reading))
  const blank = placesOf(facts, ({ box }) => box === undefined)
  const isShaded = reading === 'own' || reading === 'tone'
  return {
    sidePx: Math.max(...frames.map(({ width, height }) => Math.max(width, height))),
    filled: shareFilled(frames, facts),
    blank,
    unreached: findUnreached(recipe, frames.length),
    same: findAlikeFrames(frames, reading).map((group) => group.map((at) => at + 1)),
    uneven: describeFrames(compareFrames(facts)),
    shadows: isShaded ? placesOf(frames, (frame) => findGreyShadow(frame) !== undefined) : [],
    shows: recipe.colour.behaviour === 'paint' ? measureShown({ frames, grain, recipe, thumbnail }) : null,
    isThumbnailBlank: isFollowing(thumbnail) && isBlank(paintThumbnail({ frames, grain, recipe, thumbnail })),
  }
}

const placesOf = <Item>(items: readonly Item[], is: (item: Item) => boolean): number[] =>
  items.flatMap((item, at) => (is(item) ? [at + 1] : []))

function shareFilled(frames: readonly Pixels[], facts: readonly ReturnType<typeof measureFrame>[]): number {
  let [boxes, whole] = [0, 0]
  for (const [i, { width, height }] of frames.entries()) {
    const box = facts[i]?.box
    whole += width * height
    if (box) boxes += (box.right - box.left) * (box.bottom - box.top)
  }
  return whole === 0 ? 0 : boxes / whole
}

/** Levels of what a hand does that are tried: pressure, tilt or speed. */
const TRIED = 512

/** Frames that no pressure, tilt or speed leads to. Order, chance and direction lead to all. */
function findUnreached({ path, hand, ...recipe }: Recipe, count: number): number[] {
  const factors = createHandFactors({ ...recipe, path, hand })
  const reached = path.nextFrame.map(({ rule, frames }) => {
    if (rule === 'inOrder' || rule === 'random' || rule === 'direction') return undefined
    const digits = new Set<number>()
    const at = new Float64Array(SAMPLE_STRIDE)
    for (let i = 0; i <= TRIED; i++) {
      const share = i / TRIED
      at[SAMPLE.pressure] = share
      at[SAMPLE.tiltX] = at[SAMPLE.tiltY] = share * 180 - 90
      digits.add(Math.max(0, Math.min(frames - 1, Math.floor(factors.frameShare(rule, at, share) * frames))))
    }
    return digits
  })
  return Array.from({ length: count }, (_, index) => index).flatMap((index) => {
    let rest = index
    for (let d = path.nextFrame.length - 1; d >= 0; d--) {
      const frames = path.nextFrame[d]?.frames ?? 1
      if (reached[d]?.has(rest % frames) === false) return [index + 1]
      rest = Math.floor(rest / frames)
    }
    return []
  })
}

const GAUGE = { width: 360, height: 225 }
const PAPER = { r: 247, g: 247, b: 247 }
const DARK = { r: 20, g: 24, b: 28 }
const INK = { r: 33, g: 40, b: 45 }

/** The most by which gauge strokes differ from what they are painted on, on light and on dark paper. */
function measureShown({ frames, grain, recipe }: Measured): number {
  const brush = prepareBrush({ frames, grain }, recipe, INK)
  let most = 0
  for (const backdrop of [PAPER, DARK]) {
    const { data } = renderGauge(brush, recipe, { ...GAUGE, backdrop })
    for (let i = 0; i < data.length; i += 4)
      most = Math.max(
        most,
        Math.abs((data[i] as number) - backdrop.r),
        Math.abs((data[i + 1] as number) - backdrop.g),
        Math.abs((data[i + 2] as number) - backdrop.b),
      )
  }
  return Math.round(most)
}

const isFollowing = ({ from }: Thumbnail) => from === 'stroke' || from === 'frame'

function paintThumbnail({ frames, grain, recipe, thumbnail }: Measured): Pixels {
  const frame = thumbnail.from === 'frame' ? thumbnail.frame : undefined
  return renderThumbnail({ frames: [...frames], grain }, recipe, { ...THUMBNAIL_SIZE, frame })
}
