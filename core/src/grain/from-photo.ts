import { FormatError } from '../errors.ts'
import { type Rows, shareRow } from '../number-row.ts'
import { blurBytes } from '../raster/blur.ts'
import { toGreyOnPaper } from '../raster/grey.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { fitSize, shrinkPixels } from '../raster/resample.ts'
import { type Mend, mendSeams } from './mend.ts'

/** A part of a photograph, px from its left and top. */
export type Crop = { left: number; top: number; width: number; height: number }
export const PHOTO_NUMBERS = {
  sidePx: { label: 'Tile, about', unit: 'px', from: 32, to: 4096, usual: 512, eased: true, whole: true },
  evenness: shareRow('Even the light'),
} satisfies Rows

export type PhotoGrainWish = {
  /** About how large the tile becomes, px of the photograph; it is made to fit what repeats there. */
  sidePx: number
  /** How far slow changes of light are taken away, 0…1. */
  evenness: number
  /** Whether its darkest becomes black and its lightest white. */
  levels: boolean
  /** How its seams are mended. */
  mend: Extract<Mend, 'cut' | 'blend'>
}
export type PhotoGrain = { crop: Crop; tile: Pixels }

/** The search looks at no more than this, px of the longer side. */
const SEARCH_SIDE_PX = 288
/** Sides that are tried, beside the one that is wanted: from, to, how many. */
const SIDES_FROM = 0.7
const SIDES_TO = 1.3
const SIDES = 19
/** What lies beyond the tile on both sides is laid over its beginning: a share of its side. */
const OVERLAP_SHARE = 0.14
/** Places are tried so many px apart, of the search's own. */
const STRIDE_PX = 3
/** Light that changes over more than this share of the tile's side belongs to the photograph, not to the grain. */
const LIGHT_SHARE = 0.35
/** The share of pixels that may clip at either end where tones are levelled. */
const CLIPPED_SHARE = 0.005
const LEAST_SIDE_PX = 16

/**
 * Makes a tile of a photograph: the part is found whose surroundings go on most as it begins, so that the cut is seen least;
 * its light is evened, its tones are levelled, its seams are mended.
 *
 * @throws {FormatError} If the photograph is too small for a tile.
 */
export function grainFromPhoto(photo: Pixels, wish: PhotoGrainWish): PhotoGrain {
  const { width, height } = photo
  const sidePx = Math.min(wish.sidePx, Math.floor(Math.min(width, height) / (1 + OVERLAP_SHARE)))
  if (sidePx < LEAST_SIDE_PX)
    throw new FormatError(
      'photograph of a grain',
      undefined,
      `a picture of at least ${2 * LEAST_SIDE_PX} px to each side`,
    )
  const grey = evenLight({ width, height, data: toGreyOnPaper(photo) }, sidePx * LIGHT_SHARE, wish.evenness)
  const crop = refine(grey, search(grey, sidePx))
  const [over, under] = [overlapOf(crop.width), overlapOf(crop.height)]
  const cut = cutOut(grey, { ...crop, width: crop.width + over, height: crop.height + under })
  // each side is shortened by what is laid over the other
  const mended = mendSides(cut, wish.mend, over / (crop.width + over), under / (crop.height + under))
  return { crop, tile: wish.levels ? level(mended) : mended }
}

type Grey = { width: number; height: number; data: Uint8Array }

const overlapOf = (side: number) => Math.max(2, Math.round(side * OVERLAP_SHARE))

function mendSides(cut: Pixels, mend: PhotoGrainWish['mend'], across: number, down: number): Pixels {
  // one share goes for both sides; they differ by less than a px
  return mendSeams(cut, mend, (across + down) / 2)
}

/** Takes away what changes slowly, around the middle grey of the photograph. */
function evenLight({ width, height, data }: Grey, deviationPx: number, evenness: number): Grey {
  if (evenness === 0) return { width, height, data }
  const light = blurBytes(data, width, height, deviationPx)
  const mean = data.reduce((sum, level) => sum + level, 0) / data.length
  const out = new Uint8ClampedArray(data.length)
  for (let i = 0; i < data.length; i++) out[i] = data[i] + evenness * (mean - light[i])
  return { width, height, data: new Uint8Array(out.buffer) }
}

/** The part of a smaller picture that goes on most as it begins, in px of the larger one. */
function search({ width, height, data }: Grey, sidePx: number): Crop {
  const small = fitSize(width, height, SEARCH_SIDE_PX)
  const scale = small.width / width
  const at = shrinkPixels({ width, height, channels: 1, data }, small.width, small.height)
  const wanted = sidePx * scale
  const sides = Array.from({ length: SIDES }, (_, i) =>
    Math.max(4, Math.round(wanted * (SIDES_FROM + ((SIDES_TO - SIDES_FROM) * i) / (SIDES - 1)))),
  )
  const fitting = (length: number) => [...new Set(sides)].filter((side) => side + overlapOf(side) <= length)
  const across = fitting(at.width).map((side) => ({ side, sums: differenceSums(at, side, 0) }))
  const down = fitting(at.height).map((side) => ({ side, sums: differenceSums(at, 0, side) }))
  let best: Crop & { cost: number } = { left: 0, top: 0, width: wanted, height: wanted, cost: Number.POSITIVE_INFINITY }
  for (const { side: w, sums: acrossSums } of across)
    for (const { side: h, sums: downSums } of down) {
      const [over, under] = [overlapOf(w), overlapOf(h)]
      for (let y = 0; y + h + under <= at.height; y += STRIDE_PX)
        for (let x = 0; x + w + over <= at.width; x += STRIDE_PX) {
          const cost =
            boxSum(acrossSums, at.width, x, y, over, h + under) / (over * (h + under)) +
            boxSum(downSums, at.width, x, y, w + over, under) / ((w + over) * under)
          if (cost < best.cost) best = { left: x, top: y, width: w, height: h, cost }
        }
    }
  const { left, top, width: w, height: h } = best
  return { left: left / scale, top: top / scale, width: w / scale, height: h / scale }
}

/** Sums from the left upper corner of how much each pixel differs from the one so far away; one row and column more. */
function differenceSums({ width, height, data }: Pixels, dx: number, dy: number): Float64Array {
  const sums = new Float64Array((width + 1) * (height + 1))
  for (let y = 0; y < height; y++) {
    let row = 0
    for (let x = 0; x < width; x++) {
      const isIn = x + dx < width && y + dy < height
      row += isIn ? Math.abs(data[y * width + x] - data[(y + dy) * width + x + dx]) : 255
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row
    }
  }
  return sums
}

function boxSum(sums: Float64Array, width: number, x: number, y: number, w: number, h: number): number {
  const [top, bottom] = [y * (width + 1), (y + h) * (width + 1)]
  return sums[bottom + x + w] - sums[bottom + x] - sums[top + x + w] + sums[top + x]
}

/** Finds the sides to the px: each axis by itself, around what the search has found. */
function refine(grey: Grey, found: Crop): Crop {
  const reach = Math.ceil((1.5 * Math.max(grey.width, grey.height)) / SEARCH_SIDE_PX)
  const top = clampStart(found.top, found.height, grey.height)
  const across = refineAxis(grey, found.left, found.width, { from: top, length: found.height }, reach, 'across')
  const down = refineAxis(grey, found.top, found.height, { from: across.start, length: across.side }, reach, 'down')
  return { left: across.start, width: across.side, top: down.start, height: down.side }
}

const clampStart = (start: number, side: number, length: number) =>
  Math.max(0, Math.min(Math.round(start), Math.floor(length - side - overlapOf(side))))

/** Rows that tell enough, and pixels along each. */
const REFINE_ROWS = 160
const REFINE_PX = 48

function refineAxis(
  { width, height, data }: Grey,
  start: number,
  side: number,
  beside: { from: number; length: number },
  reach: number,
  axis: 'across' | 'down',
): { start: number; side: number } {
  const [length, along, apart] = axis === 'across' ? [width, 1, width] : [height, width, 1]
  const limit = axis === 'across' ? height : width
  const rowStep = Math.max(1, Math.floor(beside.length / REFINE_ROWS))
  let best = { start: clampStart(start, side, length), side: Math.round(side), cost: Number.POSITIVE_INFINITY }
  for (let s = Math.round(side) - reach; s <= Math.round(side) + reach; s++) {
    const over = overlapOf(s)
    const step = Math.max(1, Math.floor(over / REFINE_PX))
    // where it begins changes little once the side is right: it is tried coarsely
    for (
      let at = Math.round(start) - reach;
      at <= Math.round(start) + reach;
      at += Math.max(1, Math.floor(reach / 4))
    ) {
      if (s < LEAST_SIDE_PX / 2 || at < 0 || at + s + over > length) continue
      let [sum, count] = [0, 0]
      for (let row = Math.floor(beside.from); row < Math.min(limit, beside.from + beside.length); row += rowStep)
        for (let k = 0; k < over; k += step) {
          const i = row * apart + (at + k) * along
          sum += Math.abs(data[i] - data[i + s * along])
          count++
        }
      if (sum / count < best.cost) best = { start: at, side: s, cost: sum / count }
    }
  }
  return best
}

function cutOut({ width: from, data }: Grey, { left, top, width, height }: Crop): Pixels {
  const out = createPixels(width, height, 1)
  for (let y = 0; y < height; y++)
    out.data.set(data.subarray((top + y) * from + left, (top + y) * from + left + width), y * width)
  return out
}

/** Stretches tones over the whole scale; a few at both ends may clip. */
function level(tile: Pixels): Pixels {
  const counts = new Uint32Array(256)
  for (const value of tile.data) counts[value]++
  const endFrom = (start: number, step: number) => {
    let seen = 0
    for (let value = start; value >= 0 && value < 256; value += step) {
      seen += counts[value]
      if (seen > tile.data.length * CLIPPED_SHARE) return value
    }
    return start
  }
  const [black, white] = [endFrom(0, 1), endFrom(255, -1)]
  if (white <= black) return tile
  const data = Uint8ClampedArray.from(tile.data, (value) => ((value - black) * 255) / (white - black))
  return { ...tile, data: new Uint8Array(data.buffer) }
}
