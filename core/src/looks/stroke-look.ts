import type { Recipe } from '../brush/recipe.ts'
import type { BrushPictures } from '../stroke/prepare-brush.ts'
import { LAID_ROWS, LAID_WIDTH_PX, paintLevelStroke, type StraightStroke, straighten } from './stroke-plane.ts'
import { signatureOf } from './stroke-signature.ts'

/** The rules that these figures are measured by: what was measured by others is measured anew. */
export const LOOK_VERSION = 1

/** How a stroke looks, in figures, and what strokes that look like it are found by. */
export type StrokeLook = {
  /** How dark it is on white paper within its width, 0 like paper … 1 black. */
  darkness: number
  /** How wide it paints at the brush's own size and a pressure of 0.7, canvas px; the outermost tenth of the paint is not counted. */
  widthPx: number
  /** How much of its paint comes and goes along the path, 0 an even line … 1. */
  roughness: number
  /** See `stroke-signature.ts`; empty where nothing is painted. */
  signature: Uint8Array
}

/** The look of a stroke that leaves nothing. */
export const NOTHING_PAINTED: StrokeLook = { darkness: 0, widthPx: 0, roughness: 0, signature: new Uint8Array() }

/** Measures how a brush's stroke looks, from a stroke that is painted for it. */
export function measureStrokeLook(pictures: BrushPictures, recipe: Recipe, seed?: number): StrokeLook {
  const plane = paintLevelStroke(pictures, recipe, seed)
  const stroke = straighten(plane)
  if (!stroke) return NOTHING_PAINTED
  return {
    darkness: darknessOf(stroke),
    widthPx: stroke.widthPx / plane.scale,
    roughness: roughnessOf(stroke),
    signature: signatureOf(stroke, recipe.colour.behaviour),
  }
}

/** The rows that are the stroke's width. */
const FIRST_ROW = (LAID_ROWS - LAID_WIDTH_PX) / 2

/** The mean darkness within the stroke's width. */
export function darknessOf({ width, dark }: StraightStroke): number {
  let sum = 0
  for (let i = FIRST_ROW * width; i < (FIRST_ROW + LAID_WIDTH_PX) * width; i++) sum += dark[i]
  return sum / (LAID_WIDTH_PX * width)
}

/** Half the change of cover from each place to the next along the path, as a share of all cover. */
export function roughnessOf({ width, height, cover }: StraightStroke): number {
  let [change, paint] = [0, 0]
  for (let y = 0; y < height; y++) {
    for (let x = 0, i = y * width; x < width; x++, i++) {
      paint += cover[i]
      if (x > 0) change += Math.abs(cover[i] - cover[i - 1])
    }
  }
  return paint > 0 ? Math.min(1, change / (2 * paint)) : 0
}
