// GIH, the open animated brush: a name line, a line with the frame count and key:value pairs, then version-2 GBRs.
import type { Gbr } from '../gbr/layout.ts'

export const GIH = 'GIH brush'

/** The two text lines are short; a file without line ends is refused after this many bytes. */
export const LINE_MAX_BYTES = 16_384
export const DIMENSIONS_MAX = 4

/** The file's keyword for each rule that picks the next frame. */
export const RULE_KEYWORD = {
  inOrder: 'incremental',
  random: 'random',
  direction: 'angular',
  pressure: 'pressure',
  speed: 'velocity',
  tiltX: 'xtilt',
  tiltY: 'ytilt',
} as const
export type GihRule = keyof typeof RULE_KEYWORD

/** One dimension of the grid of frames: how many lie along it, and the rule that moves along it. */
export type GihDimension = { rank: number; rule: GihRule }

/**
 * An animated brush. The ranks' product is the number of frames; frames run with the last dimension fastest.
 * `extra` holds keys this reader does not know, in file order, and is written back.
 */
export type Gih = {
  name: string
  spacingPct: number
  dimensions: GihDimension[]
  frames: Gbr[]
  extra: [key: string, value: string][]
}
