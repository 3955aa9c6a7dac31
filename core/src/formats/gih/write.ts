import { FormatError, LimitError } from '../../errors.ts'
import { FRAMES_MAX, NAME_MAX_CHARS } from '../../limits.ts'
import { joinBytes } from '../bytes.ts'
import { writeGbr } from '../gbr/write.ts'
import { toOneLine, toUtf8 } from '../text.ts'
import { DIMENSIONS_MAX, GIH, type Gih, LAYOUT_HINTS, RULE_KEYWORD } from './layout.ts'

/**
 * Writes a GIH file. Frame count, cell size and ranks come from the frames themselves, so they cannot be wrong;
 * every frame is written as a version-2 GBR.
 * @throws {FormatError} If there is no frame, or the ranks do not make the number of frames.
 */
export function writeGih(brush: Gih): Uint8Array {
  const { frames, dimensions } = brush
  if (frames.length === 0) throw new FormatError(GIH, 0, 'at least one frame')
  if (frames.length > FRAMES_MAX) throw new LimitError('the frame count', frames.length, FRAMES_MAX)
  const product = dimensions.reduce((all, { rank }) => all * rank, 1)
  if (dimensions.length < 1 || dimensions.length > DIMENSIONS_MAX || product !== frames.length) {
    throw new FormatError(GIH, 0, `ranks that make ${frames.length} frames, got ${product}`)
  }
  const spacing = Math.max(1, Math.round(brush.spacingPct))
  const pairs: [string, string | number][] = [
    ['ncells', frames.length],
    ['cellwidth', Math.max(...frames.map((frame) => frame.width))],
    ['cellheight', Math.max(...frames.map((frame) => frame.height))],
    ['step', spacing],
    ['dim', dimensions.length],
    ...Object.entries(LAYOUT_HINTS).filter(([key]) => !brush.extra.some(([kept]) => kept === key)),
    ...dimensions.flatMap(({ rank, rule }, d): [string, string | number][] => [
      [`rank${d}`, rank],
      [`sel${d}`, RULE_KEYWORD[rule]],
    ]),
    ...brush.extra,
  ]
  const name = toOneLine(brush.name, NAME_MAX_CHARS)
  const head = `${name}\n${frames.length} ${pairs.map(([key, value]) => `${key}:${value}`).join(' ')}\n`
  return joinBytes([toUtf8(head), ...frames.map((frame) => writeGbr({ ...frame, version: 2, spacingPct: spacing }))])
}
