import * as v from 'valibot'
import { picklistOf } from '../../number-row.ts'
import type { Work } from '../work.ts'

/** Places of the ring of hues: every 45 degrees from red. */
export const RING_POINTS = 8

/** What counts of a picture, and what a touch on it makes of a colour, in words. */
export const GREY_WORDS = { colour: 'colour', clearness: 'what is not clear' } as const
export const TOUCH_BECOMES = { paint: 'paint', ground: 'ground' } as const

const Weight = v.pipe(v.number(), v.minValue(-20), v.maxValue(20))
const Offset = v.pipe(v.number(), v.minValue(-5000), v.maxValue(5000))
const Touch = v.strictObject({
  /** Px of the source. */
  x: v.pipe(v.number(), v.minValue(-100_000), v.maxValue(100_000)),
  y: v.pipe(v.number(), v.minValue(-100_000), v.maxValue(100_000)),
  becomes: picklistOf(TOUCH_BECOMES),
})
export type Touch = v.InferOutput<typeof Touch>

/** A mixture of the channels: grey = offset + red R + green G + blue B, on coded values 0…255. */
export const Mix = v.strictObject({ red: Weight, green: Weight, blue: Weight, offset: Offset })
export type Mix = v.InferOutput<typeof Mix>

/** How colours become grey. */
export const Grey = v.strictObject({
  /** Whether the colours count, or what is not transparent. */
  by: picklistOf(GREY_WORDS),
  mix: Mix,
  touches: v.pipe(v.array(Touch), v.maxLength(200)),
  /** How much more (to 1) or less (to -1) each hue paints than the mixture says, every 45 degrees from red. */
  ring: v.pipe(v.array(v.pipe(v.number(), v.minValue(-1), v.maxValue(1))), v.length(RING_POINTS)),
})
export type Grey = v.InferOutput<typeof Grey>

/** Rec. 709 luma (ITU-R BT.709). */
export const LUMA_MIX: Mix = { red: 0.2126, green: 0.7152, blue: 0.0722, offset: 0 }
export const PLAIN_GREY: Grey = { by: 'colour', mix: LUMA_MIX, touches: [], ring: Array(RING_POINTS).fill(0) }

/** Parts of a level: the largest mixture of three channels and an offset still is a whole number of 32 bits. */
const PARTS_BITS = 16
const PARTS = 2 ** PARTS_BITS

const partsOf = (weight: number): Int32Array =>
  Int32Array.from({ length: 256 }, (_, value) => Math.round(weight * value * PARTS))

/** Pixels as whole words, red lowest; typed arrays lie in memory as they are read on every machine that runs this. */
function toWords(colour: Uint8Array): Uint32Array {
  const aligned = colour.byteOffset % 4 === 0 ? colour : colour.slice()
  return new Uint32Array(aligned.buffer, aligned.byteOffset, aligned.length / 4)
}

/** Mixes the channels to one; what is clear lies on the ground. */
export function toGrey(work: Work, { by, mix, ring }: Grey): Work {
  const { colour } = work
  const grey = new Uint8Array(work.width * work.height)
  if (by === 'clearness') {
    for (let i = 3, o = 0; o < grey.length; i += 4, o++) grey[o] = 255 - colour[i]
    return { ...work, grey, zero: 0 }
  }
  const { red, green, blue, offset } = mix
  // each channel's part by its value, in whole parts of a level: looked up, it needs no arithmetic but a sum
  const [reds, greens, blues] = [red, green, blue].map(partsOf)
  const first = Math.round(offset * PARTS) + PARTS / 2
  const words = toWords(colour)
  for (let o = 0; o < words.length; o++) {
    const word = words[o]
    const level = (first + reds[word & 255] + greens[(word >> 8) & 255] + blues[(word >> 16) & 255]) >> PARTS_BITS
    const clipped = Math.max(0, Math.min(255, level))
    const alpha = word >>> 24
    grey[o] = alpha === 255 ? clipped : Math.round(255 + ((clipped - 255) * alpha) / 255)
  }
  if (ring.some((amount) => amount !== 0)) bendByHue(colour, grey, ring)
  // shadow takes light away: colours go to black, and black is mixed to the offset
  return { ...work, grey, zero: offset }
}

/** A hue paints more by its place on the ring, the more colour there is in a pixel. */
function bendByHue(colour: Uint8Array, grey: Uint8Array, ring: readonly number[]): void {
  for (let i = 0, o = 0; o < grey.length; i += 4, o++) {
    const r = colour[i]
    const g = colour[i + 1]
    const b = colour[i + 2]
    const high = Math.max(r, g, b)
    const chroma = high - Math.min(r, g, b)
    if (chroma === 0) continue
    const sector = high === r ? (g - b) / chroma + 6 : high === g ? (b - r) / chroma + 2 : (r - g) / chroma + 4
    const at = ((sector % 6) / 6) * RING_POINTS
    const from = Math.floor(at)
    const amount = ring[from % RING_POINTS] + (ring[(from + 1) % RING_POINTS] - ring[from % RING_POINTS]) * (at - from)
    grey[o] = Math.max(0, Math.min(255, grey[o] - amount * chroma * (colour[i + 3] / 255)))
  }
}
