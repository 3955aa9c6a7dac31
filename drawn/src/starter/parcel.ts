import { writeGbr } from '@satchel/core/formats/gbr/write'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { encodePng } from '@satchel/node/png'
import { clamp, createTileNoise } from '../ink.ts'
import { frond, pad, wrack } from '../motifs.ts'

const FOLDER = 'Estuary finds'
const TILE_PX = 128

/**
 * A parcel to try Gather with, as a zip: tips, an open brush, a grain, one copy, one file that is no picture, and one that
 * is cut short. All of it is drawn here.
 */
export function drawParcel(): Uint8Array {
  const leaf = encodePng(frond(701, { width: 160, height: 72, waves: 3, ribs: 2 }).toPaper())
  const stone = pad(703, { side: 96, hard: 0.6, wear: 0.5, scale: 8 }).toMask()
  const fine = createTileNoise(704, 4, TILE_PX)
  const broad = createTileNoise(705, 16, TILE_PX)
  const sand = Uint8Array.from({ length: TILE_PX * TILE_PX }, (_, i) => {
    const [x, y] = [i % TILE_PX, Math.floor(i / TILE_PX)]
    return Math.round(255 * clamp(0.2 + 0.45 * fine(x, y) + 0.45 * broad(x, y)))
  })
  const files: [string, Uint8Array][] = [
    ['driftwood twig.png', encodePng(wrack(702, { side: 160, depth: 4, bladder: 0 }).toPaper())],
    ['willow leaf.png', leaf],
    ['yellowed leaf.png', leaf],
    ['half a leaf.png', leaf.subarray(0, Math.floor(leaf.length / 2))],
    ['washed stone.gbr', writeGbr({ version: 2, name: 'Washed stone', spacingPct: 24, ...stone, data: stone.data })],
    ['packed sand.png', encodePng({ width: TILE_PX, height: TILE_PX, channels: 1, data: sand })],
    ['where I found them.txt', new TextEncoder().encode('Below the old jetty, at low water.\n')],
  ]
  const zip = new ZipWriter()
  const parts = files.flatMap(([name, bytes]) => zip.add(`${FOLDER}/${name}`, bytes, 'store'))
  return new Uint8Array(Buffer.concat([...parts, ...zip.finish()]))
}
