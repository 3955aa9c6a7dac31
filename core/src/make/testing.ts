import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import type { Pixels } from '../raster/pixels.ts'

/** Where a drawn shape is: 1 inside, 0 outside, between on its edge; px of the picture. */
export type Shape = (x: number, y: number) => number

export const disc =
  (cx: number, cy: number, radius: number): Shape =>
  (x, y) =>
    Math.min(1, Math.max(0, radius + 0.5 - Math.hypot(x - cx, y - cy)))

/** A leaf: two arcs that meet in points, turned. */
export const leaf = (cx: number, cy: number, length: number, turnDeg: number): Shape => {
  const turn = (turnDeg * Math.PI) / 180
  return (x, y) => {
    const dx = (x - cx) * Math.cos(turn) + (y - cy) * Math.sin(turn)
    const dy = (y - cy) * Math.cos(turn) - (x - cx) * Math.sin(turn)
    const half = length / 2
    if (Math.abs(dx) > half) return 0
    const width = (length / 4) * (1 - (dx / half) ** 2)
    return Math.min(1, Math.max(0, width + 0.5 - Math.abs(dy)))
  }
}

export const anyOf =
  (...shapes: Shape[]): Shape =>
  (x, y) =>
    shapes.reduce((most, shape) => Math.max(most, shape(x, y)), 0)

type Photo = {
  width: number
  height: number
  shape: Shape
  paint: readonly [number, number, number]
  ground: readonly [number, number, number]
  /** How far a place of the thing goes from the ground to the paint, 1 all the way: its relief. */
  relief?: (x: number, y: number) => number
  /** Light at a place, 1 as it is. */
  light?: (x: number, y: number) => number
  /** Standard deviation of the noise, levels. */
  noise?: number
  seed?: number
}

/** A photograph of a flat thing on a ground, with the mask of what is the thing. */
export function takePhoto({
  width,
  height,
  shape,
  paint,
  ground,
  relief = () => 1,
  light = () => 1,
  noise = 0,
  seed = 1,
}: Photo): {
  picture: Pixels
  mask: Uint8Array
} {
  const generator = xoroshiro128plus(seed)
  const normal = () => {
    let sum = 0
    for (let i = 0; i < 6; i++) sum += uniformFloat64(generator)
    return (sum - 3) * Math.SQRT2
  }
  const data = new Uint8Array(width * height * 4)
  const mask = new Uint8Array(width * height)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const inside = shape(x + 0.5, y + 0.5)
      mask[i] = inside >= 0.5 ? 1 : 0
      for (let c = 0; c < 3; c++) {
        const value = (ground[c] + (paint[c] - ground[c]) * inside * relief(x, y)) * light(x, y) + noise * normal()
        data[4 * i + c] = Math.round(Math.min(255, Math.max(0, value)))
      }
      data[4 * i + 3] = 255
    }
  return { picture: { width, height, channels: 4, data }, mask }
}

/** The overlap of what is painted by half or more with a mask: what both have, of what either has. */
export function overlap(grey: Uint8Array, mask: Uint8Array): number {
  let both = 0
  let either = 0
  for (let i = 0; i < mask.length; i++) {
    const paints = grey[i] < 128 ? 1 : 0
    both += paints & mask[i]
    either += paints | mask[i]
  }
  return both / either
}
