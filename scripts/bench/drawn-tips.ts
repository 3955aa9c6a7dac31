import { deflateSync } from 'node:zlib'
import { printAlike } from '../../core/src/alike/alike-print.ts'
import { writePng } from '../../core/src/formats/png/write.ts'
import { hashPixels } from '../../core/src/hashes.ts'
import { nodeHashBytes } from '../../node/src/hash.ts'
import { tipPixels } from './tip-pixels.ts'

/** Tips of one size to fill a library with, each another one. */
export const drawnTips = (sidePx: number) => (n: number) => {
  const pixels = tipPixels(sidePx, n + 1)
  const png = writePng(pixels, { deflate: (bytes) => deflateSync(bytes) })
  return { png, sidePx, pixelSha: hashPixels(pixels, nodeHashBytes), alike: printAlike(pixels, 'dark') }
}
