// GIH, the open animated brush: a name line, a line with the frame count and key:value pairs, then version-2 GBRs.
import { type Gbr, looksLikeGbr } from '../gbr/layout.ts'

export const GIH = 'GIH brush'

/** The two text lines are short; a file without line ends is refused after this many bytes. */
export const LINE_MAX_BYTES = 16_384
const SHORT_LINE_BYTES = 4096
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

/** Hints of how the frames once lay on a picture; nothing depends on them. */
export const LAYOUT_HINTS = { cols: '1', rows: '1', placement: 'constant' } as const

/**
 * An animated brush. The ranks' product is the number of frames; frames run with the last dimension fastest.
 * `extra` holds keys this reader does not know, and hints of layout that are not the usual ones, in file order; all are
 * written back.
 */
export type Gih = {
  name: string
  spacingPct: number
  dimensions: GihDimension[]
  frames: Gbr[]
  extra: [key: string, value: string][]
}

/** A name line, and a line that starts with a count, followed by pairs or a brush. */
export function looksLikeGih(head: Uint8Array): boolean {
  const first = head.indexOf(10)
  if (first < 0 || first > SHORT_LINE_BYTES) return false
  const second = head.indexOf(10, first + 1)
  if (second < 0) return false
  const line = String.fromCharCode(...head.subarray(first + 1, Math.min(second, first + 200)))
  return (
    /^\s{0,9}\d{1,9}(?:\s{1,9}[a-z0-9]{1,40}:\S|\s{0,9}$)/.test(line) &&
    (/ncells:|dim:|rank0:/.test(line) || looksLikeGbr(head, second + 1))
  )
}
