import type { Recipe } from '../brush/recipe.ts'
import type { PreparedGrain } from '../grain/prepare-grain.ts'
import type { Rgb } from '../raster/srgb.ts'
import type { Rect, Surface, SurfacePart } from '../raster/surface.ts'
import type { PreparedFrame } from './levels.ts'
import type { Samples } from './path/samples.ts'

/**
 * Most work that one stroke may take, so that no recipe can freeze a page: pixels visited, and `STAMP_WORK_PX` for each
 * stamp or segment. Some seconds.
 */
export const STROKE_WORK_MAX_PX = 300_000_000
/** What a stamp costs beside its pixels (measured: up to 50 µs, where a pixel takes some 20 ns with everything on). */
export const STAMP_WORK_PX = 2000

/** A brush's pictures, read as its recipe says and prefiltered; see `prepare-brush.ts`. */
export type PreparedBrush = {
  /** All of one channel count; a ribbon's strip is the first. */
  frames: readonly PreparedFrame[]
  grain?: PreparedGrain | undefined
}

export type StrokeOptions = {
  width: number
  height: number
  brush: PreparedBrush
  recipe: Recipe
  seed: number
  /** The chosen colour; tips in their own colours do not use it. */
  colour: Rgb
  /** The canvas before the stroke, of the same size: what smearing moves. */
  under?: Surface | undefined
  /** `plain` is the tested reference of `simd`; both give the same bytes. */
  kernel?: 'simd' | 'plain' | undefined
  /** How much work it may take; a stroke's usual bound where it is not said. */
  workMaxPx?: number | undefined
}

/** A stroke while it is painted, on a layer of its own. */
export type Stroke = {
  /** Adds more of the path. @returns The area that changed, or undefined when nothing fell on the picture. */
  add(samples: Samples): Rect | undefined
  /**
   * Draws on trial what `finish` would draw if the path ended here; the next `add`, `peek` or `finish` takes it back.
   * Only strokes that can take back have it.
   * @returns The area that changed, with that of a trial taken back.
   */
  peek?(): Rect | undefined
  /** Ends the path: what had to wait for its end is drawn. */
  finish(): Rect | undefined
  /**
   * Lays the stroke so far onto a picture of its own size, or a part of one, in place, within `area`
   * (default: all of the picture).
   */
  compositeOnto(surface: SurfacePart, area?: Rect): void
  /** Ends with the stroke: its memory serves the next ones. It must not be used after that. */
  close(): void
  /** Whether the stroke asked for more than may be drawn; the rest of it is missing. */
  readonly isCutShort: boolean
  /** The work it has taken so far, as it counts towards its bound. */
  readonly workPx: number
}
