import type { Rect } from './surface.ts'

/** The smallest area that holds both; either may be nothing. */
export function unite(a: Rect | undefined, b: Rect | undefined): Rect | undefined {
  if (!a || !b) return a ?? b
  return {
    left: Math.min(a.left, b.left),
    top: Math.min(a.top, b.top),
    right: Math.max(a.right, b.right),
    bottom: Math.max(a.bottom, b.bottom),
  }
}
