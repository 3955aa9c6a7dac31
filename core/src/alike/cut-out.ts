import type { Reduced } from './picture-parts.ts'

/** How far, in levels of any channel, a place must be from the ground to be seen on it. */
const SEEN_LEVELS = 20
/** How much of an opaque picture's border must be of one colour to be its ground. */
const GROUND_SHARE = 0.7
const OPAQUE_FROM = 0.98
const PAPER = [255, 255, 255]
/** Less than this of a picture seen on paper: it is white paint, and its alpha is its shape. */
const WHITE_SHARE = 0.002

/**
 * Where a picture in own colours shows anything on its ground, 1 or 0. The ground is white paper, or what an opaque
 * picture has all around, so that what is cut out and the same laid on paper have one shape.
 *
 * @param strongest The alpha that counts as most.
 */
export function findSeen(reduced: Reduced, strongest: number): Float32Array {
  const { paint, rgb } = reduced
  const all = new Float32Array(paint.length).fill(1)
  if (!rgb) return all
  const isOpaque = paint.every((alpha) => alpha >= OPAQUE_FROM)
  const ground = isOpaque ? groundOf(reduced) : PAPER
  if (!ground) return all
  const seen = new Float32Array(paint.length)
  for (let i = 0, p = 0; i < seen.length; i++, p += 3) {
    const paper = 255 * Math.max(0, 1 - paint[i] / strongest)
    let off = 0
    for (let c = 0; c < 3; c++) off = Math.max(off, Math.abs(rgb[p + c] / strongest + paper - ground[c]))
    // Rims are seen by shares: where a wholly seen px begins would else hang on how the grid lies.
    seen[i] = Math.min(1, Math.max(0, off / SEEN_LEVELS - 0.5))
  }
  const share = seen.reduce((sum, value) => sum + value, 0) / seen.length
  if (share > WHITE_SHARE) return seen
  return isOpaque ? all : paint.map((alpha) => alpha / strongest)
}

/** The colour of an opaque picture's border, where nearly all of it has one. */
function groundOf({ width, height, rgb }: Reduced): number[] | undefined {
  if (!rgb) return undefined
  const border = borderPlaces(width, height)
  const middle = [0, 1, 2].map((c) => medianOf(border.map((i) => rgb[3 * i + c])))
  const isGround = (i: number) => middle.every((level, c) => Math.abs(rgb[3 * i + c] - level) <= SEEN_LEVELS)
  return border.filter(isGround).length < GROUND_SHARE * border.length ? undefined : middle
}

export function borderPlaces(width: number, height: number): number[] {
  const places: number[] = []
  for (let x = 0; x < width; x++) places.push(x, (height - 1) * width + x)
  for (let y = 1; y < height - 1; y++) places.push(y * width, y * width + width - 1)
  return places
}

const medianOf = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1] ?? 0
