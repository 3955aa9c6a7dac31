import { decodeKeys } from './alike-print.ts'
import { findTurn } from './compare-marks.ts'
import type { Difference } from './differences.ts'
import { judgePair } from './judge.ts'
import { KEY_LENGTH, waysToLay } from './key.ts'
import type { Mark } from './mark.ts'
import { decodeMark } from './mark-bytes.ts'
import { findNearPairs, type NearPair } from './near-keys.ts'

/** Keys of copies that were saved again, scaled, levelled or went through JPEG lie closer than this, 98 in 100 of them. */
const RADIUS = 0.25
/** So many of the closest are looked at. */
const CANDIDATES = 6

/**
 * Pairs of tips that may look alike, by their kept keys: the later one with those before it.
 *
 * @param joined One after another: so many small pieces take longer to hand to a thread than to search.
 * @param from Those of smaller index are found, not searched for.
 */
export const findCandidates = (joined: Uint8Array, from: number): NearPair[] =>
  findNearPairs(decodeKeys(joined), { length: KEY_LENGTH, radius: RADIUS, most: CANDIDATES, waysOf: waysToLay, from })

/** Whether two kept marks are alike as far as they can tell. */
export function mayBeAlike(mark: Uint8Array, original: Uint8Array): boolean {
  const [own, first] = [decodeMark(mark), decodeMark(original)]
  return findTurn(first, own).score >= SCORE_FROM && judgePair(own, first) !== undefined
}

/** What does not agree so far before it is laid over closely never will; found by trial, like the bounds of a judgement. */
const SCORE_FROM = 0.7

/** Grids of pictures: the finest of these that both marks fill. */
const FINE_SIDES = [96, 48, 24] as const
type FineSide = (typeof FINE_SIDES)[number]

/** Lays a tip's picture on a grid of a side: whoever compares it with many may keep what comes of it. */
export type LayTip = (side: FineSide) => Promise<Mark | undefined>

/**
 * Compares two tips by their pixels. @returns How the first differs from its original; undefined where they are not alike.
 */
export async function judgePictures(layTip: LayTip, layOriginal: LayTip): Promise<Difference[] | undefined> {
  const sizes = [await layTip(FINE_SIDES[2]), await layOriginal(FINE_SIDES[2])]
  if (!sizes[0] || !sizes[1]) return undefined
  const smaller = Math.min(...sizes.map((mark) => (mark ? Math.max(mark.widthPx, mark.heightPx) : 0)))
  const side = FINE_SIDES.find((fine) => fine <= smaller) ?? FINE_SIDES[2]
  const [mark, first] = [await layTip(side), await layOriginal(side)]
  return mark && first && judgePair(mark, first)
}
