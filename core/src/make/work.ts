import { checkPictureSize } from '../limits.ts'
import { toGreyOnPaper } from '../raster/grey.ts'
import { type Pixels, toRgba } from '../raster/pixels.ts'

/**
 * How a picture at work lies on the picture it came from: `scale` is px of the work a px of the source, 0 / 0 of the work
 * is at `left` / `top` of the source once that is turned by `angleDeg` about its middle. Positions of a source are kept in
 * its own px, so that a step means the same on a preview and at full size.
 */
export type WorkPlace = {
  scale: number
  left: number
  top: number
  angleDeg: number
  sourceWidth: number
  sourceHeight: number
}

/** Greys from here up are ground: fainter paint is not seen in a stroke. */
export const GROUND_FROM = 250

/** A picture on its way to a tip. Steps make a new one and leave theirs as it is. */
export type Work = {
  width: number
  height: number
  /** The colours, straight RGBA. */
  colour: Uint8Array
  /** What paints, a byte a pixel: 0 paints fully, 255 is ground. */
  grey: Uint8Array
  /** The grey that stands for no light at all: shadows of the ground draw towards it. */
  zero: number
  place: WorkPlace
  /** The share of each pixel that a lasso keeps, a byte a pixel; all of them where there is none. */
  kept?: Uint8Array
  /** How the finished tip is to be read. */
  reading: 'dark' | 'light' | 'alpha' | 'own' | 'tone'
}

/** @param scale Px of this picture a px of the source: below 1 for a preview. */
export function startWork(picture: Pixels, scale = 1): Work {
  const { width, height } = picture
  const place = { scale, left: 0, top: 0, angleDeg: 0, sourceWidth: width / scale, sourceHeight: height / scale }
  const { data: colour } = toRgba(picture)
  return { width, height, colour, grey: new Uint8Array(toGreyOnPaper(picture)), zero: 0, place, reading: 'dark' }
}

/** The px of the work where a px of the source lies. */
export function toWorkPoint({ place }: Work, x: number, y: number): { x: number; y: number } {
  const turn = (-place.angleDeg * Math.PI) / 180
  const dx = x - place.sourceWidth / 2
  const dy = y - place.sourceHeight / 2
  const turnedX = dx * Math.cos(turn) - dy * Math.sin(turn) + place.sourceWidth / 2
  const turnedY = dx * Math.sin(turn) + dy * Math.cos(turn) + place.sourceHeight / 2
  return { x: (turnedX - place.left) * place.scale, y: (turnedY - place.top) * place.scale }
}

/** The px of the source that lies at a px of the work. */
export function toSourcePoint({ place }: Pick<Work, 'place'>, x: number, y: number): { x: number; y: number } {
  const turn = (place.angleDeg * Math.PI) / 180
  const dx = x / place.scale + place.left - place.sourceWidth / 2
  const dy = y / place.scale + place.top - place.sourceHeight / 2
  return {
    x: dx * Math.cos(turn) - dy * Math.sin(turn) + place.sourceWidth / 2,
    y: dx * Math.sin(turn) + dy * Math.cos(turn) + place.sourceHeight / 2,
  }
}

/** Makes ground of what lies outside the lasso, which is forgotten then. */
export function dropUnkept({ kept, ...work }: Work): Work {
  if (!kept) return work
  const colour = work.colour.slice()
  const grey = new Uint8Array(work.grey.length)
  for (let i = 0; i < grey.length; i++) {
    grey[i] = Math.round(255 + ((work.grey[i] - 255) * kept[i]) / 255)
    colour[4 * i + 3] = Math.round((colour[4 * i + 3] * kept[i]) / 255)
  }
  return { ...work, colour, grey }
}

/** A part of a work, whole px; what lies beyond it is ground without colour. */
export function cutWork(work: Work, left: number, top: number, width: number, height: number): Work {
  checkPictureSize(width, height)
  const colour = new Uint8Array(width * height * 4)
  const grey = new Uint8Array(width * height).fill(255)
  const from = Math.max(0, left)
  const to = Math.min(work.width, left + width)
  if (to > from) {
    for (let y = Math.max(0, top); y < Math.min(work.height, top + height); y++) {
      const i = y * work.width
      const o = (y - top) * width - left
      grey.set(work.grey.subarray(i + from, i + to), o + from)
      colour.set(work.colour.subarray(4 * (i + from), 4 * (i + to)), 4 * (o + from))
    }
  }
  const { place } = work
  return {
    ...work,
    width,
    height,
    colour,
    grey,
    place: { ...place, left: place.left + left / place.scale, top: place.top + top / place.scale },
  }
}
