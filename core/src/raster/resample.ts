import { createPixels, type Pixels } from './pixels.ts'

/**
 * Scales a picture down by averaging the area each new pixel covers; colours are weighted by their alpha,
 * so nothing bleeds in from transparent pixels.
 *
 * @param width, height New size in px, each from 1 to the old one.
 * @throws {RangeError} If the new size is larger than the old one or below 1.
 */
export function shrinkPixels(source: Pixels, width: number, height: number): Pixels {
  if (!(width >= 1 && height >= 1 && width <= source.width && height <= source.height)) {
    throw new RangeError(`shrink to ${width} x ${height}: expected 1 x 1 up to ${source.width} x ${source.height}`)
  }
  const columns = coverAxis(source.width, width)
  const rows = coverAxis(source.height, height)
  const out = createPixels(width, height, source.channels)
  const sums = new Float64Array(4)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      sums.fill(0)
      const area = addArea(source, columns, x, rows, y, sums)
      const o = (y * width + x) * source.channels
      if (source.channels === 1) out.data[o] = Math.round(sums[0] / area)
      else if (sums[3] > 0) {
        for (let c = 0; c < 3; c++) out.data[o + c] = Math.round(sums[c] / sums[3])
        out.data[o + 3] = Math.round(sums[3] / area)
      }
    }
  }
  return out
}

/** The size that fits a longest side, keeping proportions; never larger than it was. */
export function fitSize(width: number, height: number, sidePx: number): { width: number; height: number } {
  const scale = Math.min(1, sidePx / Math.max(width, height))
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) }
}

/** For each new pixel: the first old one it touches, the last (included), and the weights of both ends. */
type Cover = { first: Int32Array; last: Int32Array; firstWeight: Float64Array; lastWeight: Float64Array }

function coverAxis(from: number, to: number): Cover {
  const ratio = from / to
  const cover = {
    first: new Int32Array(to),
    last: new Int32Array(to),
    firstWeight: new Float64Array(to),
    lastWeight: new Float64Array(to),
  }
  for (let i = 0; i < to; i++) {
    const start = i * ratio
    const end = i === to - 1 ? from : (i + 1) * ratio
    const first = Math.floor(start)
    const last = Math.min(from - 1, Math.ceil(end) - 1)
    cover.first[i] = first
    cover.last[i] = last
    cover.firstWeight[i] = first === last ? end - start : first + 1 - start
    cover.lastWeight[i] = end - last
  }
  return cover
}

function addArea(source: Pixels, columns: Cover, x: number, rows: Cover, y: number, sums: Float64Array): number {
  const { data, width, channels } = source
  const x0 = columns.first[x]
  const x1 = columns.last[x]
  let area = 0
  for (let sy = rows.first[y]; sy <= rows.last[y]; sy++) {
    const wy = sy === rows.first[y] ? rows.firstWeight[y] : sy === rows.last[y] ? rows.lastWeight[y] : 1
    for (let sx = x0, i = (sy * width + x0) * channels; sx <= x1; sx++, i += channels) {
      const weight = wy * (sx === x0 ? columns.firstWeight[x] : sx === x1 ? columns.lastWeight[x] : 1)
      area += weight
      if (channels === 1) sums[0] += weight * data[i]
      else {
        const alpha = weight * data[i + 3]
        sums[0] += alpha * data[i]
        sums[1] += alpha * data[i + 1]
        sums[2] += alpha * data[i + 2]
        sums[3] += alpha
      }
    }
  }
  return area
}
