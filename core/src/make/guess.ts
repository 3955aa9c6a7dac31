import { labelAreas } from '../raster/areas.ts'
import type { Pixels } from '../raster/pixels.ts'
import { fitSize, shrinkPixels } from '../raster/resample.ts'
import { otsuThreshold } from './histogram.ts'
import { partingMix } from './mix.ts'
import { noiseOf, ringingOf } from './noise.ts'
import { type Step, type Steps, settingsOf, withSettings } from './step-kinds.ts'
import { evenGround } from './steps/even.ts'
import { LUMA_MIX, type Mix, type Touch, toGrey } from './steps/grey.ts'
import { setTones, type Tones } from './steps/tones.ts'
import { usualSteps } from './steps.ts'
import { startWork, toWorkPoint, type Work } from './work.ts'

/** A guess looks at no more than this, px of the longer side. */
const GUESS_SIDE_PX = 640
/** A picture of which more is clear draws its shape by that; the same as where a reading is guessed. */
const CLEAR_SHARE = 0.02
const CLEAR_BELOW = 128
/** How wide the border is from which the ground is taken, of the shorter side. */
const BORDER_SHARE = 0.03
/** Colours of a sample; more change nothing that can be seen. */
const SAMPLES = 20_000
/** Spreads of the ground's own greys that count as ground. */
const GROUND_SPREADS = 3.5
/**
 * The white point lies at least so far from the threshold to the middle of the ground: pale marks are lost before it, and
 * those with relief fall apart. Of 60 drawn photographs of twelve marks each, on dark ground and light, with relief, halos,
 * noise and JPEG, it finds all twelve in 60; in 51 without it.
 */
const LEAST_LIFT = 0.5
/** The greys that lie darkest in the paint and paint fully, of all of them: the rest stays softer. */
const FULL_SHARE = 0.35
/** Marks below this share of the largest one are specks; chosen by eye. */
const SPECK_SHARE = 0.002
const SPECK_MIN_PX = 5
const TIP_SIDE_PX = 1024 // most tips are not larger; common practice, no source

/**
 * The first guess of every step, from the picture: the ground is what its border shows, and paint what differs from it,
 * dark on light, light on dark, or one colour on another.
 */
export function guessSteps(picture: Pixels): Step[] {
  const { width, height } = fitSize(picture.width, picture.height, GUESS_SIDE_PX)
  const small = shrinkPixels(picture, width, height)
  const start = startWork(small, width / picture.width)
  let steps = usualSteps()
  const grey = settingsOf(steps, 'grey')
  if (isCutOut(start)) {
    steps = withSettings(steps, 'grey', { ...grey, by: 'clearness' })
    return steps.map((step) => (step.kind === 'even' || step.kind === 'tones' ? { ...step, on: false } : step))
  }
  steps = withSettings(steps, 'grey', { ...grey, mix: guessMix(start) })
  const mixed = toGrey(start, settingsOf(steps, 'grey'))
  const evened = evenGround(mixed, settingsOf(steps, 'even'))
  // the smaller picture has less noise than its own, and that of the ground must not paint
  const { mix } = settingsOf(steps, 'grey')
  const noise = Math.max(0, noiseOf(picture, mix) - noiseOf(small, mix))
  const ringing = ringingOf(picture, mix, otsuThreshold(mixed.grey))
  const lift = liftOf(mixed, evened)
  const tones = guessTones(evened, { noise: noise * lift, ringing: ringing * lift })
  steps = withSettings(steps, 'tones', tones)
  steps = withSettings(steps, 'specks', { specksPx: guessSpecks(setTones(evened, tones)), holesPx: 0 })
  return withSettings(steps, 'size', { fit: 'side', sidePx: TIP_SIDE_PX })
}

/**
 * The mixture that parts what was touched. Where only one of paint and ground was touched, the other is everything as far
 * from it as the picture's border from its middle.
 * @param work The picture before it became grey.
 */
export function mixOfTouches(work: Work, touches: readonly Touch[]): Mix {
  const radius = Math.max(2, Math.round(Math.min(work.width, work.height) / 100))
  const around = (becomes: Touch['becomes']) =>
    touches.filter((touch) => touch.becomes === becomes).flatMap((touch) => coloursAround(work, touch, radius))
  const untouched = guessSides(work)
  const paint = around('paint')
  const ground = around('ground')
  return partingMix(
    paint.length > 0 ? paint : untouched.paint,
    ground.length > 0 ? ground : untouched.ground,
    coloursOf(work),
  )
}

/**
 * What follows from touching the picture: the mixture that parts what was touched, and the tones that fit it.
 * @param work The picture before it became grey.
 */
export function guessFromTouches(work: Work, steps: Steps, touches: readonly Touch[]): { mix: Mix; tones: Tones } {
  const mix = touches.length === 0 ? guessMix(work) : mixOfTouches(work, touches)
  const mixed = toGrey(work, { ...settingsOf(steps, 'grey'), by: 'colour', mix })
  const { on, settings } = steps.find((step) => step.kind === 'even') as Extract<Step, { kind: 'even' }>
  return { mix, tones: guessTones(on ? evenGround(mixed, settings) : mixed, { noise: 0, ringing: 0 }) }
}

function guessMix(work: Work): Mix {
  const { paint, ground } = guessSides(work)
  return paint.length === 0 || ground.length === 0 ? LUMA_MIX : partingMix(paint, ground, coloursOf(work))
}

/** A picture in which much is clear, and its border most of all. */
function isCutOut({ colour }: Work): boolean {
  let clear = 0
  for (let i = 3; i < colour.length; i += 4) if (colour[i] < CLEAR_BELOW) clear++
  return clear > (colour.length / 4) * CLEAR_SHARE
}

/** Colours of the ground, as the border has it, and of what differs from it. */
function guessSides(work: Work): { paint: number[]; ground: number[] } {
  const { width, height, colour } = work
  const rim = Math.max(1, Math.round(Math.min(width, height) * BORDER_SHARE))
  const border: number[] = []
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4)
      if (x < rim || y < rim || x >= width - rim || y >= height - rim) border.push(i)
  const usual = [0, 1, 2].map((channel) => medianOnPaper(colour, border, channel))
  const distances = new Uint8Array(width * height)
  for (let o = 0, i = 0; o < distances.length; o++, i += 4) {
    let sum = 0
    for (let c = 0; c < 3; c++) sum += Math.abs(onPaper(colour, i, c) - usual[c])
    distances[o] = sum / 3
  }
  const threshold = otsuThreshold(distances)
  const sides: { paint: number[]; ground: number[] } = { paint: [], ground: [] }
  const every = Math.max(1, Math.floor(distances.length / SAMPLES))
  for (let o = 0; o < distances.length; o += every)
    addOnPaper(sides[distances[o] > threshold ? 'paint' : 'ground'], colour, 4 * o)
  return sides
}

function coloursOf({ colour }: Work): number[] {
  const every = 4 * Math.max(1, Math.floor(colour.length / 4 / SAMPLES))
  const colours: number[] = []
  for (let i = 0; i < colour.length; i += every) addOnPaper(colours, colour, i)
  return colours
}

function coloursAround(work: Work, { x, y }: Touch, radius: number): number[] {
  const at = toWorkPoint(work, x, y)
  const colours: number[] = []
  for (let py = Math.floor(at.y) - radius; py <= Math.floor(at.y) + radius; py++)
    for (let px = Math.floor(at.x) - radius; px <= Math.floor(at.x) + radius; px++) {
      if (px < 0 || py < 0 || px >= work.width || py >= work.height) continue
      addOnPaper(colours, work.colour, 4 * (py * work.width + px))
    }
  return colours
}

/** A channel of a colour that lies on white. */
const onPaper = (colour: Uint8Array, i: number, channel: number): number =>
  255 + ((colour[i + channel] - 255) * colour[i + 3]) / 255

function addOnPaper(colours: number[], colour: Uint8Array, i: number): void {
  colours.push(onPaper(colour, i, 0), onPaper(colour, i, 1), onPaper(colour, i, 2))
}

function medianOnPaper(colour: Uint8Array, places: readonly number[], channel: number): number {
  const values = Float32Array.from(places, (i) => onPaper(colour, i, channel)).sort()
  return values[Math.floor(values.length / 2)]
}

/** How much clearing the ground stretches greys there. */
function liftOf(mixed: Work, evened: Work): number {
  const middle = (data: Uint8Array) => data.slice().sort()[Math.floor(data.length / 2)]
  return Math.min(4, (middle(evened.grey) + 1) / (middle(mixed.grey) + 1))
}

/**
 * Black and white point of a picture whose ground is even and light.
 * @param noise What the ground is noisier by at full size, levels.
 * @param ringing How much the ground beside marks rings, levels.
 */
function guessTones({ grey }: Work, { noise, ringing }: { noise: number; ringing: number }): Tones {
  const counts = new Uint32Array(256)
  for (let i = 0; i < grey.length; i++) counts[grey[i]]++
  const threshold = otsuThreshold(grey)
  const quantile = (from: number, to: number, share: number) => {
    let total = 0
    for (let level = from; level <= to; level++) total += counts[level]
    let sum = 0
    for (let level = from; level <= to; level++) {
      sum += counts[level]
      if (sum >= total * share && sum > 0) return level
    }
    return to
  }
  const middle = quantile(threshold + 1, 255, 0.5)
  // one spread of a normal distribution lies below its middle, where 16 % of it end
  const spread = Math.max(middle - quantile(threshold + 1, 255, 0.16) + noise, ringing)
  const least = threshold + Math.max(2, LEAST_LIFT * (middle - threshold))
  const white = Math.round(Math.min(255, Math.max(least, middle - GROUND_SPREADS * Math.max(1, spread))))
  const black = Math.min(white - 2, quantile(0, threshold, FULL_SHARE))
  return { black: Math.max(0, black), white, gamma: 1, invert: false }
}

/** The area below which a mark is a speck beside the largest one, px of the source. */
function guessSpecks({ width, height, grey, place }: Work): number {
  const { sizes } = labelAreas(
    grey.map((level) => (level < 128 ? 1 : 0)),
    width,
    height,
  )
  const largest = sizes.subarray(1).reduce((a, b) => Math.max(a, b), 0)
  return Math.round(Math.max(SPECK_MIN_PX, largest * SPECK_SHARE) / place.scale ** 2)
}
