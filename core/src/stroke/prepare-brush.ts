import { toCoverage } from '../brush/coverage.ts'
import type { Recipe } from '../brush/recipe.ts'
import { shadeByTone } from '../brush/tone.ts'
import { prepareGrain } from '../grain/prepare-grain.ts'
import { LevelStore } from '../raster/level-store.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import type { Rgb } from '../raster/srgb.ts'
import { type Level, type PreparedFrame, prepareFrame } from './levels.ts'
import type { PreparedBrush } from './stroke.ts'

/** A brush's pictures as stored. */
export type BrushPictures = { frames: readonly Pixels[]; grain?: Pixels | undefined }

/** Reads a brush's pictures as its recipe says; they are prefiltered as strokes ask for sizes. */
export function prepareBrush(pictures: BrushPictures, recipe: Recipe, colour: Rgb): PreparedBrush {
  return { frames: prepareFrames(pictures.frames, recipe, colour), grain: prepareGround(pictures.grain, recipe) }
}

/** The frames as paint. What erases or smears has no colour: its own colours and tones count by their alpha. */
export function prepareFrames(frames: readonly Pixels[], { colour }: Recipe, chosen: Rgb): PreparedFrame[] {
  const store = new LevelStore<Level>()
  return frames.map((pixels) => {
    const coverage = toCoverage(pixels, colour.reading)
    if (coverage.channels === 1) return prepareFrame(coverage, store)
    if (colour.behaviour !== 'paint') return prepareFrame(alphaOf(coverage), store)
    return prepareFrame(colour.reading === 'tone' ? shadeByTone(coverage, colour.anchorGrey, chosen) : coverage, store)
  })
}

/** The grain with its tones set; undefined where the recipe uses none. */
export function prepareGround(grain: Pixels | undefined, recipe: Recipe): PreparedBrush['grain'] {
  return grain && recipe.ground.grain ? prepareGrain(grain, recipe.ground.grain) : undefined
}

/** All that `prepareFrames` depends on besides the pictures: while it stays the same, so do the frames. */
export function framesKey({ colour }: Recipe, chosen: Rgb): string {
  const tone = colour.reading === 'tone' ? [colour.anchorGrey, chosen.r, chosen.g, chosen.b] : []
  return JSON.stringify([colour.reading, colour.behaviour === 'paint', ...tone])
}

function alphaOf({ width, height, data }: Pixels): Pixels {
  const out = createPixels(width, height, 1)
  for (let i = 3, o = 0; i < data.length; i += 4, o++) out.data[o] = data[i]
  return out
}
