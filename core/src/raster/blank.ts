import type { Pixels } from './pixels.ts'

/** Steps of 255 by which a pixel must differ from its backdrop to be seen beside it; chosen by eye. */
const SEEN_STEPS = 14
/** A mark smaller than this share of the picture counts as dust; chosen by eye. */
const SEEN_SHARE = 0.001

/**
 * Whether a picture shows nothing: too few of its pixels differ, in any channel, from the colour of its first one.
 *
 * @param pixels Straight alpha counts as a channel of its own, so lay what is transparent on its backdrop first.
 */
export function isBlank({ width, height, channels, data }: Pixels): boolean {
  const wanted = Math.max(1, Math.ceil(width * height * SEEN_SHARE))
  let backdrop = 0
  let other = 0
  for (let i = 0; i < data.length; i += channels) {
    let differs = false
    for (let c = 0; c < channels; c++) differs ||= Math.abs(data[i + c] - data[c]) >= SEEN_STEPS
    if (differs) other++
    else backdrop++
    if (other >= wanted && backdrop >= wanted) return false
  }
  return true
}
