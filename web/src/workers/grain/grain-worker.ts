import { readPng } from '@satchel/core/formats/png/read'
import { writePng } from '@satchel/core/formats/png/write'
import { mendSeams, moveByHalf } from '@satchel/core/grain/mend'
import { drawGrain } from '@satchel/core/grain/rules'
import { measureSeam } from '@satchel/core/grain/seam'
import { type Pixels, toRgba } from '@satchel/core/raster/pixels'
import type { GrainAnswer, GrainRequest, GrainTile, GrainWish } from './protocol.ts'

self.addEventListener('message', ({ data }: MessageEvent<GrainRequest>) => {
  const answer = (message: GrainAnswer, transfer: Transferable[] = []) => postMessage(message, { transfer })
  try {
    const tile = toTile(make(data))
    answer({ id: data.id, type: 'tile', tile }, [tile.data.buffer, tile.png.buffer])
  } catch (error) {
    answer({ id: data.id, type: 'problem', message: error instanceof Error ? error.message : String(error) })
  }
})

function make(wish: GrainWish): Pixels {
  if (wish.type === 'draw') return drawGrain(wish.rule, wish.settings)
  const tile = readPng(new Uint8Array(wish.png)).frames[0]?.pixels
  if (!tile) throw new Error('This grain holds no picture; reload the page.')
  return wish.mend ? mendSeams(tile, wish.mend) : tile
}

function toTile(pixels: Pixels): GrainTile {
  return {
    width: pixels.width,
    height: pixels.height,
    data: new Uint8ClampedArray(toRgba(moveByHalf(pixels)).data),
    seam: measureSeam(pixels),
    png: new Uint8Array(writePng(pixels)),
  }
}
