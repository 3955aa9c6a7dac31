import type { PaintReading } from '../brush/recipe.ts'
import { LimitError } from '../errors.ts'
import { ANIMATION_PIXELS_MAX, FRAMES_MAX } from '../limits.ts'
import type { Pixels } from '../raster/pixels.ts'
import type { Opened } from './opened.ts'
import { toTip } from './steps/reading.ts'
import { type Become, becomeOf, beginPlan, lastWork, ownSteps, type Plan, splitWork } from './ways.ts'

/** One picture that a source gives: a tip, or a frame of one. `part` names it, the same as long as it is the same thing. */
export type MadePart = { part: string; name: string; pixels: Pixels; reading: PaintReading }
export type Made = { become: Become; parts: MadePart[] }

/** Tips that one source gives at once. */
const TIPS_MAX = 2000

/**
 * Makes all that a source gives, at full size.
 * @returns A generator that tells what share is done, 0…1; whoever asks may stop it.
 * @throws {LimitError} If that is more than can be held: too many parts, or too many pixels in all of them.
 */
export function* makeAll(opened: Opened, plan: Plan): Generator<number, Made> {
  const become = becomeOf(plan)
  const most = become === 'frames' ? FRAMES_MAX : TIPS_MAX
  const parts: MadePart[] = []
  let pixelCount = 0
  for (const each of beginPlan(opened, plan)) {
    if (typeof each === 'number') {
      yield each
      continue
    }
    const pieces = splitWork(each.work, plan)
    const count = parts.length + (pieces?.length ?? 1)
    if (count > most) throw new LimitError(`the number of ${become} that are made at once`, count, most)
    for (const [k, piece] of (pieces ?? [each]).entries()) {
      const end = lastWork(piece.work, pieces ? ownSteps(plan.steps) : plan.steps)
      pixelCount += end.width * end.height
      if (pixelCount > ANIMATION_PIXELS_MAX)
        throw new LimitError('the pixel count of all that is made at once', pixelCount, ANIMATION_PIXELS_MAX)
      parts.push({ part: piece.part, name: piece.name, pixels: toTip(end), reading: end.reading })
      if (pieces) yield (k + 1) / pieces.length
    }
  }
  yield 1
  return { become, parts }
}
