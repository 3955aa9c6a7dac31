/**
 * Samples along one axis: sample j is the mean of the source from `first + j · step` over a length of `window`, both in
 * source px. What lies beyond the source is the source again where it `wraps`, and empty elsewhere.
 */
export type AxisSamples = { first: number; step: number; window: number; count: number; wraps: boolean }

/** Rows of numbers: `channels` a pixel. */
export type Grid = { data: Uint8Array | Float32Array; width: number; height: number; channels: number }

/** Each pixel as it is. */
export const everyPixel = (count: number): AxisSamples => ({ first: 0, step: 1, window: 1, count, wraps: false })

/** A whole axis brought to another count: each pixel the mean of those it stands for. */
export const scaledAxis = (from: number, count: number): AxisSamples => ({
  first: 0,
  step: from / count,
  window: from / count,
  count,
  wraps: false,
})

/**
 * Exact means over the rectangles that the samples of both axes span (area resampling). Uses only + − × ÷ on 32-bit
 * floats, so that every machine gives the same numbers.
 *
 * @returns `down.count` rows of `across.count` pixels, not rounded.
 */
export function meanOverAreas(source: Grid, across: AxisSamples, down: AxisSamples): Float32Array {
  return reduceRows(reduceColumns(source, down), across)
}

/** For each sample the source pixels it touches and their shares: those of sample j lie at `starts[j]`…`starts[j + 1]`. */
type Taps = { starts: Int32Array; pixels: Int32Array; shares: Float32Array }

function tapsOf({ first, step, window, count, wraps }: AxisSamples, length: number): Taps {
  const starts = new Int32Array(count + 1)
  const pixels: number[] = []
  const shares: number[] = []
  for (let j = 0; j < count; j++) {
    const from = first + j * step
    const end = from + window
    const last = wraps ? end : Math.min(end, length)
    for (let i = wraps ? Math.floor(from) : Math.max(0, Math.floor(from)); i < last; i++) {
      pixels.push(wraps ? ((i % length) + length) % length : i)
      shares.push((Math.min(end, i + 1) - Math.max(from, i)) / window)
    }
    starts[j + 1] = pixels.length
  }
  return { starts, pixels: Int32Array.from(pixels), shares: Float32Array.from(shares) }
}

/** Whole rows at a time: the source is read as it lies in memory. */
function reduceColumns({ data, width, height, channels }: Grid, down: AxisSamples): Grid & { data: Float32Array } {
  const { starts, pixels, shares } = tapsOf(down, height)
  const length = width * channels
  const out = new Float32Array(down.count * length)
  for (let j = 0; j < down.count; j++) {
    const o = j * length
    for (let t = starts[j]; t < starts[j + 1]; t++) {
      const share = shares[t]
      const i = pixels[t] * length
      for (let x = 0; x < length; x++) out[o + x] += share * data[i + x]
    }
  }
  return { data: out, width, height: down.count, channels }
}

function reduceRows({ data, width, height, channels }: Grid, across: AxisSamples): Float32Array {
  const { starts, pixels, shares } = tapsOf(across, width)
  const out = new Float32Array(across.count * height * channels)
  for (let y = 0, o = 0; y < height; y++) {
    const row = y * width * channels
    for (let j = 0; j < across.count; j++) {
      for (let c = 0; c < channels; c++, o++) {
        let sum = 0
        for (let t = starts[j]; t < starts[j + 1]; t++) sum += shares[t] * data[row + pixels[t] * channels + c]
        out[o] = sum
      }
    }
  }
  return out
}
