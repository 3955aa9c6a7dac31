import { SIZE_MAX_PX, SIZE_MIN_PX } from '@satchel/core/brush/recipe'

const STEP = 1.1 // each press of a key grows or shrinks by a tenth

/** The next size up or down: a tenth, but at least one px, within what a recipe may hold. */
export function stepSize(sizePx: number, direction: -1 | 1): number {
  const scaled = direction > 0 ? Math.max(sizePx + 1, sizePx * STEP) : Math.min(sizePx - 1, sizePx / STEP)
  return Math.min(SIZE_MAX_PX, Math.max(SIZE_MIN_PX, Math.round(scaled)))
}
