import { labelAreas } from '../raster/areas.ts'
import { distanceThirds } from '../raster/distance.ts'
import type { Pixels } from '../raster/pixels.ts'

/** Channels nearer together than this are grey. */
const GREY_LEVELS = 14
/** Darker greys hardly take on a colour. */
const TAKES_COLOUR_FROM = 20
/** A shadow lets something through. */
const OPAQUE_FROM = 252
const FAINT_BELOW = 6
/** Thinner than this it is the soft edge of something, in thirds of a px; and smaller than this share no shadow. */
const EDGE_THIRDS = 7
const LEAST_SHARE = 0.002

/**
 * Finds shadows drawn as grey that lets through: on white they look as they should, and in a tip that shades the chosen
 * colour they take it on. A shadow is right as black at a low alpha.
 *
 * @param frame Own colours or tones, with alpha.
 * @returns A byte a pixel, 1 in a shadow; undefined where there is none.
 */
export function findGreyShadow({ width, height, channels, data }: Pixels): Uint8Array | undefined {
  if (channels === 1) return undefined
  const isGrey = new Uint8Array(width * height)
  for (let i = 0, o = 0; o < isGrey.length; i += 4, o++) {
    const high = Math.max(data[i], data[i + 1], data[i + 2])
    const low = Math.min(data[i], data[i + 1], data[i + 2])
    const alpha = data[i + 3]
    if (high - low <= GREY_LEVELS && low >= TAKES_COLOUR_FROM && alpha >= FAINT_BELOW && alpha < OPAQUE_FROM)
      isGrey[o] = 1
  }
  const { labels, sizes } = labelAreas(isGrey, width, height)
  const depth = distanceThirds(isGrey, width, height, { beyond: 'mask' })
  const isThick = new Uint8Array(sizes.length)
  for (let i = 0; i < labels.length; i++) if (depth[i] >= EDGE_THIRDS) isThick[labels[i]] = 1
  let found = false
  for (let i = 0; i < labels.length; i++) {
    const label = labels[i]
    const isShadow = label > 0 && isThick[label] === 1 && sizes[label] >= LEAST_SHARE * labels.length
    isGrey[i] = isShadow ? 1 : 0
    found ||= isShadow
  }
  return found ? isGrey : undefined
}

/** The same picture with a shadow as black that lets more through: on white it looks the same, within one level. */
export function blackenShadow(frame: Pixels, shadow: Uint8Array): Pixels {
  const data = frame.data.slice()
  for (let o = 0, i = 0; o < shadow.length; o++, i += 4) {
    if (shadow[o] === 0) continue
    const grey = (data[i] + data[i + 1] + data[i + 2]) / 3
    data[i + 3] = Math.round((data[i + 3] * (255 - grey)) / 255)
    data.fill(0, i, i + 3)
  }
  return { ...frame, data }
}
