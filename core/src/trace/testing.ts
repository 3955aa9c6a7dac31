import { createRandom } from '../stroke/path/random.ts'

/** A picture of nothing but inside and outside: 255 and 0. */
export type Bitmap = { cover: Uint8Array; width: number; height: number }

/** @param isSet Asked at the middle of each pixel. */
export const drawBitmap = (width: number, height: number, isSet: (x: number, y: number) => boolean): Bitmap => ({
  width,
  height,
  cover: Uint8Array.from({ length: width * height }, (_, i) =>
    isSet((i % width) + 0.5, Math.floor(i / width) + 0.5) ? 255 : 0,
  ),
})

/** Smooth noise, 0…1, that repeats nowhere within reach. @param cell px from one free value to the next. */
function smoothNoise(cell: number, seed: number): (x: number, y: number) => number {
  const random = createRandom(seed)
  const side = 400
  const grid = Float32Array.from({ length: side * side }, () => random())
  const ease = (t: number) => t * t * (3 - 2 * t)
  return (x, y) => {
    const [gx, gy] = [Math.floor(x / cell), Math.floor(y / cell)]
    const [u, v] = [ease(x / cell - gx), ease(y / cell - gy)]
    const at = (dx: number, dy: number) => grid[((gy + dy) % side) * side + ((gx + dx) % side)] ?? 0
    return (at(0, 0) * (1 - u) + at(1, 0) * u) * (1 - v) + (at(0, 1) * (1 - u) + at(1, 1) * u) * v
  }
}

/** A blob with a ragged rim, as a tip. */
export function raggedBlob(side = 1024): Bitmap {
  const [large, small] = [smoothNoise(90, 1), smoothNoise(14, 2)]
  return drawBitmap(side, side, (x, y) => {
    const away = Math.hypot(x - side / 2, y - side / 2) / (side / 2)
    return large(x, y) * 0.7 + small(x, y) * 0.35 - away * 0.9 + 0.25 > 0
  })
}

/** A stroke of dry paint, as a strip. */
export function dryStroke(width = 2400, height = 400): Bitmap {
  const [a, b, c] = [smoothNoise(40, 3), smoothNoise(7, 4), smoothNoise(8.5, 5)]
  return drawBitmap(width, height, (x, y) => {
    const away = Math.abs(y - height / 2 - 30 * Math.sin(x / 200)) / (height * 0.36)
    return away < 1 && a(x, y) * 0.3 + b(x, y) * 0.5 + c(x, y) * 0.35 > 0.35 + 0.5 * away * away
  })
}

/** The bitmap as PBM, which every tracer reads: 1 is inside. */
export function toPbm({ cover, width, height }: Bitmap): Uint8Array {
  const head = new TextEncoder().encode(`P4\n${width} ${height}\n`)
  const across = Math.ceil(width / 8)
  const out = new Uint8Array(head.length + across * height)
  out.set(head)
  for (let i = 0; i < cover.length; i++)
    if (cover[i] !== 0)
      out[head.length + Math.floor(i / width) * across + ((i % width) >> 3)] |= 128 >> ((i % width) & 7)
  return out
}
