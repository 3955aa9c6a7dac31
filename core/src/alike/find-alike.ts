import type { PaintReading } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { decodeKeys } from './alike-print.ts'
import { findTurn } from './compare-marks.ts'
import type { Difference } from './differences.ts'
import { judgePair } from './judge.ts'
import { KEY_LENGTH, waysToLay } from './key.ts'
import { layMark } from './mark.ts'
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

/** A tip's picture and how its px paint. */
export type Painted = { pixels: Pixels; reading: PaintReading }

/**
 * Compares two tips by their pixels. @returns How the first differs from its original; undefined where they are not alike.
 */
export function judgePictures(tip: Painted, original: Painted): Difference[] | undefined {
  const sizes = [tip, original].map(({ pixels, reading }) => layMark(pixels, reading, FINE_SIDES[2]))
  if (!sizes[0] || !sizes[1]) return undefined
  const smaller = Math.min(...sizes.map((mark) => (mark ? Math.max(mark.widthPx, mark.heightPx) : 0)))
  const side = FINE_SIDES.find((fine) => fine <= smaller) ?? FINE_SIDES[2]
  const [mark, first] = [tip, original].map(({ pixels, reading }) => layMark(pixels, reading, side))
  return mark && first && judgePair(mark, first)
}
