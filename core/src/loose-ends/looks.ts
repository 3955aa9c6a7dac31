import { compareMarks, findTurn } from '../alike/compare-marks.ts'
import { judgePair } from '../alike/judge.ts'
import { decodeMark } from '../alike/mark-bytes.ts'

/** A picture that looks like a wanted one: its place among the candidates, and how much it does, 0 to 100. */
export type Look = { at: number; score: number }

/** What does not agree so far in its coarse shape is not compared closely. */
const TURN_FROM = 0.7
const MOST = 3

/**
 * Which of many pictures look like each of some others, the best first; by their kept marks, so that it is to be
 * confirmed by the pixels.
 * @param wanted Kept marks (`printAlike`); an empty one looks like nothing.
 */
export function rankLooks(wanted: readonly Uint8Array[], candidates: readonly Uint8Array[]): Look[][] {
  const marks = candidates.map((bytes) => (bytes.length === 0 ? undefined : decodeMark(bytes)))
  return wanted.map((bytes) => {
    if (bytes.length === 0) return []
    const original = decodeMark(bytes)
    return marks
      .flatMap((mark, at): Look[] => {
        if (!mark || findTurn(original, mark).score < TURN_FROM || judgePair(mark, original) === undefined) return []
        const { shape, inside, tone } = compareMarks(original, mark)
        return [{ at, score: Math.round(100 * Math.max(0, Math.min(Math.abs(shape), inside, Math.abs(tone)))) }]
      })
      .sort((a, b) => b.score - a.score)
      .slice(0, MOST)
  })
}
