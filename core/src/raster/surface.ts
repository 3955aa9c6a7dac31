import type { Rgb } from './srgb.ts'

/** A picture to paint on: premultiplied RGBA, 8 bits, sRGB, rows from the top. */
export type Surface = { width: number; height: number; data: Uint8ClampedArray }

/** A part of a larger picture, with the place of its corner there, px; without one it is the whole picture. */
export type SurfacePart = Surface & { left?: number; top?: number }

/** An area in whole px; right and bottom are excluded. */
export type Rect = { left: number; top: number; right: number; bottom: number }

export const wholeOf = ({ width, height, left = 0, top = 0 }: SurfacePart): Rect => ({
  left,
  top,
  right: left + width,
  bottom: top + height,
})

/** A transparent surface, or one filled with an opaque colour. */
export function createSurface(width: number, height: number, backdrop?: Rgb): Surface {
  const data = new Uint8ClampedArray(width * height * 4)
  if (backdrop) {
    for (let i = 0; i < data.length; i += 4) {
      data[i] = backdrop.r
      data[i + 1] = backdrop.g
      data[i + 2] = backdrop.b
      data[i + 3] = 255
    }
  }
  return { width, height, data }
}

/** The same picture with straight alpha, as PNG wants it. */
export function toStraightRgba({ width, height, data }: Surface): {
  width: number
  height: number
  channels: 4
  data: Uint8Array
} {
  const out = new Uint8Array(data.length)
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]
    if (alpha === 0) continue
    for (let c = 0; c < 3; c++) out[i + c] = Math.min(255, Math.round((data[i + c] * 255) / alpha))
    out[i + 3] = alpha
  }
  return { width, height, channels: 4, data: out }
}
