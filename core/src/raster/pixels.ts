/**
 * A picture in memory: rows from the top, no padding.
 * One channel is grey as stored (0 black, 255 white); four are R, G, B, A with straight alpha, sRGB.
 */
export type Pixels = { width: number; height: number; channels: 1 | 4; data: Uint8Array }

/** Makes an all-zero picture; sizes in px, both at least 1. */
export function createPixels(width: number, height: number, channels: 1 | 4): Pixels {
  return { width, height, channels, data: new Uint8Array(width * height * channels) }
}

/** Grey as opaque RGBA; RGBA is returned as it is. */
export function toRgba(pixels: Pixels): Pixels {
  if (pixels.channels === 4) return pixels
  const out = createPixels(pixels.width, pixels.height, 4)
  for (let i = 0, o = 0; i < pixels.data.length; i++, o += 4) {
    const grey = pixels.data[i]
    out.data[o] = grey
    out.data[o + 1] = grey
    out.data[o + 2] = grey
    out.data[o + 3] = 255
  }
  return out
}

/** RGBA that is opaque and colourless everywhere becomes one channel; anything else is returned as it is. */
export function toGreyIfLossless(pixels: Pixels): Pixels {
  if (pixels.channels === 1) return pixels
  const { data } = pixels
  for (let i = 0; i < data.length; i += 4) {
    if (data[i] !== data[i + 1] || data[i] !== data[i + 2] || data[i + 3] !== 255) return pixels
  }
  const out = createPixels(pixels.width, pixels.height, 1)
  for (let i = 0, o = 0; i < data.length; i += 4, o++) out.data[o] = data[i]
  return out
}
