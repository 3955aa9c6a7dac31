import { readPng } from '@satchel/core/formats/png/read'
import { writePng } from '@satchel/core/formats/png/write'
import { grainFromPhoto } from '@satchel/core/grain/from-photo'
import { mendSeams, moveByHalf } from '@satchel/core/grain/mend'
import { drawGrain } from '@satchel/core/grain/rules'
import { measureSeam } from '@satchel/core/grain/seam'
import { PICTURE_PIXELS_MAX } from '@satchel/core/limits'
import { type Pixels, toRgba } from '@satchel/core/raster/pixels'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { INK, renderListStroke } from '@satchel/core/render/render'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import { answerAll, moved } from '../port.ts'
import type { Shown } from '../shown.ts'
import type { GrainQuestions, GrainTile, GrainWish, StrokeWish } from './protocol.ts'

const PAPER = { r: 247, g: 247, b: 247 }
/** A photograph is shown no larger than this, px. */
const PHOTO_SHOWN_PX = 640

answerAll<GrainQuestions>(self, {
  async tile(wish) {
    const tile = await make(wish)
    return moved(tile, [tile.data.buffer, tile.png.buffer])
  },
  stroke(wish) {
    const stroke = strokeWith(wish)
    return moved(stroke, [stroke.data.buffer])
  },
})

async function make(wish: GrainWish): Promise<GrainTile> {
  if (wish.type === 'draw') return toTile(drawGrain(wish.rule, wish.settings))
  if (wish.type === 'photo') {
    const photo = await decode(wish.file)
    const { crop, tile } = grainFromPhoto(photo, wish.wish)
    const { width, height } = photo
    const small = fitSize(width, height, PHOTO_SHOWN_PX)
    const shown = toShown(small.width === width ? photo : shrinkPixels(photo, small.width, small.height))
    return { ...toTile(tile), photo: { crop, width, height, shown } }
  }
  const tile = firstPicture(wish.png)
  return toTile(wish.mend ? mendSeams(tile, wish.mend) : tile)
}

let decoded: { key: string; pixels: Pixels } | undefined

/** A photograph by the browser's own decoder, turned as the camera says; the last one is kept. */
async function decode(file: File): Promise<Pixels> {
  const key = `${file.name} ${file.size} ${file.lastModified}`
  if (decoded?.key === key) return decoded.pixels
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new Error('This is no picture that the browser reads; save it as JPEG or PNG.')
  })
  const { width, height } = bitmap
  if (width * height > PICTURE_PIXELS_MAX)
    throw new Error(`The picture has more than ${PICTURE_PIXELS_MAX / 1e6} million pixels; save it smaller.`)
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })
  if (!context) throw new Error('this browser draws nothing')
  context.drawImage(bitmap, 0, 0)
  bitmap.close()
  const pixels: Pixels = {
    width,
    height,
    channels: 4,
    data: new Uint8Array(context.getImageData(0, 0, width, height).data.buffer),
  }
  decoded = { key, pixels }
  return pixels
}

function firstPicture(png: ArrayBuffer | Uint8Array): Pixels {
  const picture = readPng(new Uint8Array(png)).frames[0]?.pixels
  if (!picture) throw new Error('This grain holds no picture; reload the page.')
  return picture
}

function strokeWith({ frames, grain, recipe, width, height }: StrokeWish): Shown {
  const brush = prepareBrush({ frames: frames.map(firstPicture), grain: firstPicture(grain) }, recipe, INK)
  const { data } = renderListStroke(brush, recipe, { width, height, backdrop: PAPER })
  return { width, height, data: new Uint8ClampedArray(data) }
}

const toShown = (pixels: Pixels): Shown => ({
  width: pixels.width,
  height: pixels.height,
  data: new Uint8ClampedArray(toRgba(pixels).data),
})

function toTile(pixels: Pixels): GrainTile {
  return {
    ...toShown(moveByHalf(pixels)),
    seam: measureSeam(pixels),
    png: new Uint8Array(writePng(pixels)),
  }
}
