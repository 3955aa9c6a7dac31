import type { Rect, Surface } from '@satchel/core/stroke/surface'

/** A copy of a part of a picture. */
export function cut(surface: Surface, { left, top, right, bottom }: Rect): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray((right - left) * (bottom - top) * 4)
  for (let y = top, o = 0; y < bottom; y++, o += (right - left) * 4) {
    out.set(surface.data.subarray((y * surface.width + left) * 4, (y * surface.width + right) * 4), o)
  }
  return out
}

/** Puts such a copy back. */
export function paste(surface: Surface, { left, top, right, bottom }: Rect, part: Uint8ClampedArray): void {
  for (let y = top, i = 0; y < bottom; y++, i += (right - left) * 4) {
    surface.data.set(part.subarray(i, i + (right - left) * 4), (y * surface.width + left) * 4)
  }
}
