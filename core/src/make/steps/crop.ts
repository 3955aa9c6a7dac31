import * as v from 'valibot'
import { numberIn, type Rows } from '../../number-row.ts'
import { coverPolygon } from '../../raster/polygon.ts'
import { cutWork, toSourcePoint, toWorkPoint, type Work } from '../work.ts'

/** Numbers of a lasso: twice its corners. */
export const LASSO_MAX = 8000

const Share = v.pipe(v.number(), v.minValue(0), v.maxValue(1))

export const CROP_NUMBERS = {
  angleDeg: { label: 'Straighten', unit: '°', from: -45, to: 45, least: -180, most: 180, step: 0.1, usual: 0 },
} satisfies Rows

/** What is kept of the picture: shares of its width and height from the left and top, after turning it about its middle. */
export const Crop = v.pipe(
  v.strictObject({
    angleDeg: numberIn(CROP_NUMBERS.angleDeg),
    left: Share,
    top: Share,
    right: Share,
    bottom: Share,
    /** The corners of a shape drawn by hand, x and y in px of the source: only what lies in it counts; all where there is none. */
    lasso: v.optional(
      v.pipe(
        v.array(v.pipe(v.number(), v.minValue(-100_000), v.maxValue(100_000))),
        v.maxLength(LASSO_MAX),
        v.check((lasso) => lasso.length % 2 === 0, 'a lasso has an x and a y for each corner'),
      ),
    ),
  }),
  v.check(({ left, top, right, bottom }) => left < right && top < bottom, 'nothing is left of the picture'),
)
export type Crop = v.InferOutput<typeof Crop>

export const WHOLE: Crop = { angleDeg: 0, left: 0, top: 0, right: 1, bottom: 1 }

/**
 * Straightens and crops. A lasso is only noted: what lies around it still tells where the ground is. A turned picture is read bilinearly, and clear
 * where it has nothing.
 */
export function crop(work: Work, settings: Crop): Work {
  const cut = cropToBox(work, settings)
  const { lasso = [] } = settings
  if (lasso.length < 6) return cut
  const corners: number[] = []
  for (let i = 0; i < lasso.length; i += 2) {
    const { x, y } = toWorkPoint(cut, lasso[i], lasso[i + 1])
    corners.push(x, y)
  }
  return { ...cut, kept: coverPolygon(corners, cut.width, cut.height) }
}

function cropToBox(work: Work, { angleDeg, left, top, right, bottom }: Crop): Work {
  const x = Math.min(work.width - 1, Math.round(left * work.width))
  const y = Math.min(work.height - 1, Math.round(top * work.height))
  const width = Math.max(1, Math.round(right * work.width) - x)
  const height = Math.max(1, Math.round(bottom * work.height) - y)
  if (angleDeg === 0) return cutWork(work, x, y, width, height)
  const { place } = work
  const turned: Work = {
    ...work,
    width,
    height,
    colour: new Uint8Array(width * height * 4),
    grey: new Uint8Array(width * height).fill(255),
    place: { ...place, angleDeg, left: place.left + x / place.scale, top: place.top + y / place.scale },
  }
  sampleTurned(work, turned)
  return turned
}

/** Reads each pixel of `out` where it lies on `work`, which itself is not turned. */
function sampleTurned(work: Work, out: Work): void {
  const { scale } = work.place
  const origin = toSourcePoint(out, 0.5, 0.5)
  const right = toSourcePoint(out, 1.5, 0.5)
  const stepX = (right.x - origin.x) * scale
  const stepY = (right.y - origin.y) * scale
  const fromX = (origin.x - work.place.left) * scale - 0.5
  const fromY = (origin.y - work.place.top) * scale - 0.5
  for (let y = 0, o = 0; y < out.height; y++) {
    // a row down is a step to the right, turned by a right angle
    let px = fromX - y * stepY
    let py = fromY + y * stepX
    for (let x = 0; x < out.width; x++, o++, px += stepX, py += stepY) {
      const ix = Math.floor(px)
      const iy = Math.floor(py)
      if (ix < 0 || iy < 0 || ix + 1 >= work.width || iy + 1 >= work.height) continue
      const fx = px - ix
      const fy = py - iy
      const i = iy * work.width + ix
      out.grey[o] = Math.round(bilinear(work.grey, i, 1, work.width, fx, fy))
      for (let c = 0; c < 4; c++)
        out.colour[4 * o + c] = Math.round(bilinear(work.colour, 4 * i + c, 4, 4 * work.width, fx, fy))
    }
  }
}

function bilinear(data: Uint8Array, i: number, across: number, down: number, fx: number, fy: number): number {
  const top = data[i] + (data[i + across] - data[i]) * fx
  const bottom = data[i + down] + (data[i + down + across] - data[i + down]) * fx
  return top + (bottom - top) * fy
}
