import { deflateSync } from 'node:zlib'
import { writePng } from '@satchel/core/formats/png/write'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import type { Pixels } from '@satchel/core/raster/pixels'

const FOLDERS = ['Reeds', 'Barbs', 'Foam', 'Pebbles', 'Bark', 'Moss', 'Rain', 'Smoke', 'Thorns']
const TIPS = 150
const PRIME = 151 // above the number of tips, so that no two are alike
const LARGE_EVERY = 30 // every 30th tip is 4096 px wide

/** A picture of its own for each number: overlapping soft rings, dark on light. */
function tip(n: number): Pixels {
  const [width, height] = n % LARGE_EVERY === 0 ? [4096, 512] : [96 + (n % 5) * 32, 96 + (n % 3) * 48]
  const data = new Uint8Array(width * height).fill(255)
  for (let k = 0; k < 4; k++) {
    const cx = width * (0.2 + (((n * 37 + k * 53) % PRIME) / PRIME) * 0.6)
    const cy = height * (0.2 + (((n * 61 + k * 29) % PRIME) / PRIME) * 0.6)
    const radius = Math.min(width, height) * (0.1 + ((n * 13 + k * 7) % 20) / 100)
    for (let y = Math.max(0, Math.floor(cy - radius)); y < Math.min(height, cy + radius); y++) {
      for (let x = Math.max(0, Math.floor(cx - radius)); x < Math.min(width, cx + radius); x++) {
        const d = Math.hypot(x - cx, y - cy) / radius
        if (d < 1) data[y * width + x] = Math.min(data[y * width + x] ?? 255, Math.round(40 + 200 * d * d))
      }
    }
  }
  return { width, height, channels: 1, data }
}

/** One of them as a file. */
export const tipPng = (n: number): Uint8Array => toFile(tip(n))

const toFile = (pixels: Pixels): Uint8Array =>
  writePng(pixels, { deflate: (bytes) => deflateSync(bytes, { level: 1 }) })

/** Its mirror image, as a file. */
export const mirroredPng = (n: number): Uint8Array => {
  const { width, data, ...rest } = tip(n)
  const mirrored = data.map((_, i) => data[i - (i % width) + width - 1 - (i % width)] ?? 255)
  return toFile({ width, data: mirrored, ...rest })
}

/** A zip of 150 tips in nine folders, mixed with files that are none of our business. @param times How often each tip is in it. */
export function packOfTips(times = 1): Uint8Array {
  const zip = new ZipWriter()
  const parts: Uint8Array[] = []
  for (let n = 0; n < TIPS; n++) {
    const folder = FOLDERS[n % FOLDERS.length]
    const name = `${folder?.toLowerCase()}_${String(n).padStart(3, '0')}.png`
    const png = tipPng(n)
    for (let time = 1; time <= times; time++)
      parts.push(...zip.add(`Old library${time > 1 ? ` ${time}` : ''}/${folder}/${name}`, png, 'store'))
  }
  const text = (words: string) => new TextEncoder().encode(words)
  parts.push(...zip.add('Old library/readme.txt', text('made long ago'), 'deflate'))
  parts.push(...zip.add('Old library/Reeds/settings.cfg', text('a=1\nb=2'), 'deflate'))
  parts.push(...zip.add('Old library/Moss/broken.png', text('\u0089PNG not really'), 'store'))
  return new Uint8Array(Buffer.concat([...parts, ...zip.finish()]))
}
