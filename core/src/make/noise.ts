import type { Pixels } from '../raster/pixels.ts'
import type { Mix } from './steps/grey.ts'

/** Steps, or rows, that are looked at; more change nothing. */
const SAMPLES = 20_000
/** Where a block of JPEG rings beside a mark, px from it: blocks are 8 px wide (ITU-T T.81). */
const BESIDE_PX = [2, 3, 4, 5, 6]
/** No block reaches from a mark to here. */
const AWAY_PX = 17
/** One spread of a normal distribution lies above the middle, where 84 % of it end. */
const ONE_SPREAD = 0.84

/**
 * The noise of a mixture, levels: the spread of the steps between neighbours, of which most are of the ground or of even
 * paint (median absolute deviation, 0.6745 of a normal spread; a step has the noise of two).
 */
export function noiseOf({ width, channels, data }: Pixels, { red, green, blue }: Mix): number {
  const every = channels * Math.max(1, Math.floor(data.length / channels / SAMPLES))
  const step = (i: number, channel: number) => data[i + channels + channel] - data[i + channel]
  const steps: number[] = []
  for (let i = 0; i + 2 * channels <= data.length; i += every) {
    if ((i / channels) % width === width - 1) continue
    steps.push(
      channels === 1
        ? Math.abs((red + green + blue) * step(i, 0))
        : Math.abs(red * step(i, 0) + green * step(i, 1) + blue * step(i, 2)),
    )
  }
  steps.sort((a, b) => a - b)
  return steps.length === 0 ? 0 : steps[Math.floor(steps.length / 2)] / 0.6745 / Math.SQRT2
}

/**
 * How much ground rings beside marks, levels: packing a picture puts waves there, up and down alike. Only those that go up
 * are counted, since the soft edge of a mark goes down.
 *
 * @param threshold The grey that parts marks from ground.
 */
export function ringingOf(
  { width, height, channels, data }: Pixels,
  { red, green, blue, offset }: Mix,
  threshold: number,
): number {
  const greyAt = (i: number) =>
    channels === 1
      ? offset + (red + green + blue) * data[i]
      : offset + red * data[i] + green * data[i + 1] + blue * data[i + 2]
  const found: number[] = []
  const every = Math.max(1, Math.floor((width * height) / (SAMPLES * 10)))
  for (let y = 0; y < height; y += every) {
    // how long there was nothing but ground
    let run = 0
    for (let x = 0, i = y * width * channels; x < width; x++, i += channels) {
      if (greyAt(i) > threshold) {
        run++
        continue
      }
      if (run > AWAY_PX) {
        const away = greyAt(i - AWAY_PX * channels)
        for (const beside of BESIDE_PX) found.push(Math.abs(Math.max(0, greyAt(i - beside * channels) - away)))
      }
      run = 0
    }
  }
  const up = found.filter((step) => step > 0).sort((a, b) => a - b)
  // what goes up seldom is no wave
  return up.length === 0 || up.length < found.length / 4 ? 0 : quantile(up, (ONE_SPREAD - 0.5) * 2)
}

const quantile = (sorted: readonly number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]
