import type { Recipe } from '../../brush/recipe.ts'

export type Taper = {
  /** Length before the end over which the stroke tapers, px: what lies there must wait until the end is known. */
  endPx: number
  /** Factors of size and opacity at a distance from the start of a stroke of the given length (infinite: not ended). */
  at(distancePx: number, lengthPx: number): { size: number; opacity: number }
}

/** The taper of a recipe; undefined when it has none. A stroke without length is a tap and does not taper. */
export function createTaper({ startPx, endPx, size, opacity }: Recipe['path']['taper']): Taper | undefined {
  if ((startPx === 0 && endPx === 0) || (size === 0 && opacity === 0)) return undefined
  const grown = (distancePx: number, overPx: number) => (overPx === 0 ? 1 : Math.min(1, distancePx / overPx))
  return {
    endPx,
    at(distancePx, lengthPx) {
      if (lengthPx === 0) return { size: 1, opacity: 1 }
      const full = grown(distancePx, startPx) * grown(Math.max(0, lengthPx - distancePx), endPx)
      return { size: 1 - size * (1 - full), opacity: 1 - opacity * (1 - full) }
    },
  }
}
