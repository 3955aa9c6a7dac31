import * as v from 'valibot'
import { numberIn, type Rows } from '../../number-row.ts'
import type { Work } from '../work.ts'

const Level = v.pipe(v.number(), v.minValue(0), v.maxValue(255))

export const TONE_NUMBERS = {
  gamma: { label: 'Middle', unit: 'γ', from: 0.1, to: 4, most: 10, step: 0.05, usual: 1 },
} satisfies Rows

/** Which greys become full paint and ground, and what lies between. */
export const Tones = v.pipe(
  v.strictObject({
    /** Greys from here down paint fully. */
    black: Level,
    /** Greys from here up are ground. */
    white: Level,
    /** Above 1 the middle paints less, below 1 more. */
    gamma: numberIn(TONE_NUMBERS.gamma),
    invert: v.boolean(),
  }),
  v.check(({ black, white }) => black < white, 'the black point lies above the white point'),
)
export type Tones = v.InferOutput<typeof Tones>

export const PLAIN_TONES: Tones = { black: 0, white: 255, gamma: 1, invert: false }

/** Sets black and white point and what lies between, and turns paint and ground round when asked. */
export function setTones(work: Work, tones: Tones): Work {
  const table = toneTable(tones)
  const grey = new Uint8Array(work.grey.length)
  for (let i = 0; i < grey.length; i++) grey[i] = table[work.grey[i]]
  return { ...work, grey, zero: 0 }
}

export function toneTable({ black, white, gamma, invert }: Tones): Uint8Array {
  return Uint8Array.from({ length: 256 }, (_, level) => {
    const share = Math.min(1, Math.max(0, (level - black) / (white - black)))
    const value = Math.round(255 * share ** (1 / gamma))
    return invert ? 255 - value : value
  })
}
