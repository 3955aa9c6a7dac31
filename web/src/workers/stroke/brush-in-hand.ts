import type { Recipe } from '@satchel/core/brush/recipe'
import { readPng } from '@satchel/core/formats/png/read'
import type { Pixels } from '@satchel/core/raster/pixels'
import type { Rgb } from '@satchel/core/raster/srgb'
import { framesKey, prepareFrames, prepareGround } from '@satchel/core/stroke/prepare-brush'
import type { PreparedBrush } from '@satchel/core/stroke/stroke'

/** As many ways of reading the same pictures are kept ready: now, before, and a preview. */
const KEPT = 3

/** A brush's pictures, and what was prepared of them: moving a slider does not read them anew. */
export class BrushInHand {
  pictures: Pixels[] = []
  #grain: Pixels | undefined
  #frames = new Map<string, PreparedBrush['frames']>()
  #grounds = new Map<string, PreparedBrush['grain']>()

  setFrames(pngs: readonly ArrayBuffer[]): void {
    this.pictures = pngs.flatMap((png) => firstPicture(png))
    this.#frames.clear()
  }

  setGrain(png: ArrayBuffer | undefined): void {
    this.#grain = png && firstPicture(png)[0]
    this.#grounds.clear()
  }

  prepare(recipe: Recipe, colour: Rgb): PreparedBrush {
    return {
      frames: keep(this.#frames, framesKey(recipe, colour), () => prepareFrames(this.pictures, recipe, colour)),
      grain: this.#prepareGrain(recipe),
    }
  }

  #prepareGrain(recipe: Recipe): PreparedBrush['grain'] {
    const { grain } = recipe.ground
    if (!grain) return undefined
    const key = [grain.sha256, grain.strength, grain.brightness, grain.contrast].join()
    return keep(this.#grounds, key, () => prepareGround(this.#grain, recipe))
  }
}

const firstPicture = (png: ArrayBuffer): Pixels[] =>
  readPng(new Uint8Array(png))
    .frames.slice(0, 1)
    .map((frame) => frame.pixels)

function keep<Value>(kept: Map<string, Value>, key: string, make: () => Value): Value {
  const found = kept.get(key)
  if (found !== undefined) return found
  const made = make()
  const [oldest] = kept.keys()
  if (kept.size >= KEPT && oldest !== undefined) kept.delete(oldest)
  kept.set(key, made)
  return made
}
