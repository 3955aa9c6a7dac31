import type { Rect, Surface, SurfacePart } from '@satchel/core/raster/surface'

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

/** Lets a backdrop show through where a part is clear, in place; where it is opaque nothing changes. */
export function layOver(
  { left, top, width, height, data }: SurfacePart & { left: number; top: number },
  backdrop: Surface,
): void {
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0, i = ((y + top) * backdrop.width + left) * 4; x < width; x++, i += 4, o += 4) {
      const through = 1 - (data[o + 3] ?? 255) / 255
      if (through === 0) continue
      for (let c = 0; c < 4; c++) data[o + c] = (data[o + c] ?? 0) + (backdrop.data[i + c] ?? 0) * through
    }
  }
}
