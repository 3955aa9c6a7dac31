import { writeGbr } from '@satchel/core/formats/gbr/write'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import type { PixelSha } from '@satchel/core/hashes'
import type { Pixels } from '@satchel/core/raster/pixels'
import { createDraw } from '@satchel/drawn/ink'
import { encodePng } from '@satchel/node/png'

/** The name of pixels that nobody has. */
export const pixelName = (letter: string): PixelSha => letter.repeat(64) as PixelSha

/** A blot of its own shape for each seed, dark on light. */
export function blot(seed: number, side = 48): Pixels {
  const draw = createDraw(seed + 1)
  const data = new Uint8Array(side * side).fill(255)
  for (let n = 0; n < 7; n++) {
    const [cx, cy, r, level] = [draw() * side, draw() * side, (0.08 + 0.14 * draw()) * side, Math.floor(draw() * 140)]
    for (let y = Math.max(0, Math.ceil(cy - r)); y < Math.min(side, cy + r); y++) {
      const reach = Math.sqrt(Math.max(0, r * r - (y - cy) ** 2))
      data.fill(level, y * side + Math.max(0, Math.ceil(cx - reach)), y * side + Math.min(side, Math.ceil(cx + reach)))
    }
  }
  return { width: side, height: side, channels: 1, data }
}

/** The same on a larger sheet, with so many px around it. */
export function onSheet({ width, height, data }: Pixels, by: number): Pixels {
  const sheet = new Uint8Array((width + 2 * by) * (height + 2 * by)).fill(255)
  for (let y = 0; y < height; y++)
    sheet.set(data.subarray(y * width, (y + 1) * width), (y + by) * (width + 2 * by) + by)
  return { width: width + 2 * by, height: height + 2 * by, channels: 1, data: sheet }
}

/** A tile that repeats: waves whose periods divide the side. */
export function waveTile(side = 64, periods = 4): Pixels {
  const data = Uint8Array.from({ length: side * side }, (_, i) => {
    const [x, y] = [(i % side) / side, Math.floor(i / side) / side]
    return Math.round(128 + 60 * Math.sin(2 * Math.PI * periods * x + 1) + 50 * Math.cos(2 * Math.PI * periods * y + 1))
  })
  return { width: side, height: side, channels: 1, data }
}

/** A strip of rope: slanted strands, dark on light. */
export function ropeStrip(width = 256, height = 64): Pixels {
  const data = Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)]
    return y < 12 || y > 51 ? 255 : Math.round(90 + 60 * Math.sin((2 * Math.PI * (x + y)) / 32))
  })
  return { width, height, channels: 1, data }
}

export const blotPng = (seed: number, side?: number): Uint8Array => encodePng(blot(seed, side))

export const blotGbr = (seed: number, name = `Blot ${seed}`): Uint8Array => {
  const { width, height, channels, data } = blot(seed)
  return writeGbr({ version: 2, name, spacingPct: 35, width, height, channels, data: data.map((grey) => 255 - grey) })
}

export function zipOf(files: Record<string, Uint8Array>): Uint8Array {
  const zip = new ZipWriter()
  const parts = Object.entries(files).flatMap(([path, bytes]) => zip.add(path, bytes, 'store'))
  return new Uint8Array(Buffer.concat([...parts, ...zip.finish()]))
}
