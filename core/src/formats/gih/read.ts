import { FormatError, LimitError } from '../../errors.ts'
import { ANIMATION_PIXELS_MAX, FRAMES_MAX } from '../../limits.ts'
import { DEFAULT_SPACING_PCT, type Gbr, SPACING_MAX_PCT } from '../gbr/layout.ts'
import { readGbrAt } from '../gbr/read.ts'
import { fromUtf8OrLatin1 } from '../text.ts'
import {
  DIMENSIONS_MAX,
  GIH,
  type Gih,
  type GihDimension,
  type GihRule,
  LAYOUT_HINTS,
  LINE_MAX_BYTES,
  RULE_KEYWORD,
} from './layout.ts'

/** Keys that the writer makes anew from the brush itself. */
const OWN_KEY = /^(ncells|cellwidth|cellheight|step|dim|rank[0-3]|sel[0-3])$/

const RULE_OF_KEYWORD = new Map<string, GihRule>(
  Object.entries(RULE_KEYWORD).map(([rule, keyword]) => [keyword, rule as GihRule]),
)

/** What `readGih` gives: the brush, and plain sentences about oddities that were put right. */
export type GihReading = { brush: Gih; warnings: string[] }

/**
 * Reads a whole GIH file. The number of frames is what is really there: a wrong count in `ncells` or the ranks is
 * put right and reported, but fewer frames than line 2 counts, or bytes left over, are refused.
 * @throws {FormatError} If a line, a pair or a frame is malformed.
 * @throws {LimitError} If there are more frames than are taken.
 */
export function readGih(bytes: Uint8Array): GihReading {
  const nameLine = readLine(bytes, 0)
  const paramLine = readLine(bytes, nameLine.next)
  const [countText = '', ...pairs] = paramLine.text.trim().split(/\s+/)
  if (!/^\d{1,9}$/.test(countText)) throw new FormatError(GIH, nameLine.next, 'a frame count')
  const count = Number(countText)
  if (count < 1) throw new FormatError(GIH, nameLine.next, 'at least one frame')
  if (count > FRAMES_MAX) throw new LimitError('the frame count', count, FRAMES_MAX)
  const warnings: string[] = []
  const params = parsePairs(pairs, nameLine.next, warnings)
  const frames = readFrames(bytes, paramLine.next, { count, warnings })
  const stated = params.get('ncells')
  if (stated !== undefined && stated !== String(count)) {
    warnings.push(`The file says ncells:${stated} but holds ${count} frames; the frames count.`)
  }
  warnings.push(...cellWarnings(params, frames))
  return {
    brush: {
      name: nameLine.text.trim(),
      spacingPct: parseSpacing(params, frames[0], warnings),
      dimensions: parseDimensions(params, { count, offset: nameLine.next, warnings }),
      frames,
      extra: [...params].filter(([key, value]) => !OWN_KEY.test(key) && LAYOUT_HINTS[key as Hint] !== value),
    },
    warnings,
  }
}

function readLine(bytes: Uint8Array, start: number): { text: string; next: number } {
  const end = bytes.indexOf(10, start)
  if (end < 0 || end - start > LINE_MAX_BYTES) throw new FormatError(GIH, start, 'a line of text')
  const stop = end > start && bytes[end - 1] === 13 ? end - 1 : end
  return { text: fromUtf8OrLatin1(bytes.subarray(start, stop)), next: end + 1 }
}

function parsePairs(pairs: string[], offset: number, warnings: string[]): Map<string, string> {
  const params = new Map<string, string>()
  for (const pair of pairs) {
    const colon = pair.indexOf(':')
    if (colon < 1) throw new FormatError(GIH, offset, `key:value pairs, found "${pair.slice(0, 40)}"`)
    const [key, value] = [pair.slice(0, colon), pair.slice(colon + 1)]
    const before = params.get(key)
    // the first one is what most readers see; the others are told of
    if (before === undefined) params.set(key, value)
    else
      warnings.push(
        `The file says ${key.slice(0, 40)} twice, "${before.slice(0, 40)}" and "${value.slice(0, 40)}"; the first counts.`,
      )
  }
  return params
}

function readFrames(
  bytes: Uint8Array,
  start: number,
  { count, warnings }: { count: number; warnings: string[] },
): Gbr[] {
  const frames: Gbr[] = []
  let [at, pixels] = [start, 0]
  while (frames.length < count) {
    if (at === bytes.length) {
      throw new FormatError(GIH, at, `${count} frames as line 2 says, found ${frames.length}`)
    }
    const { brush, end, warnings: odd } = readGbrAt(bytes, at)
    pixels += brush.width * brush.height
    if (pixels > ANIMATION_PIXELS_MAX)
      throw new LimitError('the pixel count of all frames', pixels, ANIMATION_PIXELS_MAX)
    frames.push(brush)
    warnings.push(...odd.map((what) => `Frame ${frames.length}: ${what}`))
    at = end
  }
  const old = frames.filter(({ version }) => version === 1).length
  if (old > 0)
    warnings.push(
      `${old} of its ${count} frames ${old === 1 ? 'is' : 'are'} of version 1, which has no spacing; the usual ${DEFAULT_SPACING_PCT} % was taken.`,
    )
  if (at !== bytes.length) {
    throw new FormatError(GIH, at, `the end after ${count} frames, found ${bytes.length - at} more bytes`)
  }
  return frames
}

/** What the file says of its cells beside what its frames are. */
function cellWarnings(params: Map<string, string>, frames: readonly Gbr[]): string[] {
  const largest = {
    cellwidth: Math.max(...frames.map(({ width }) => width)),
    cellheight: Math.max(...frames.map(({ height }) => height)),
  }
  return Object.entries(largest).flatMap(([key, px]) => {
    const stated = params.get(key)
    return stated === undefined || stated === String(px)
      ? []
      : [`The file says ${key}:${stated.slice(0, 40)} but its largest frame has ${px} px; the frames count.`]
  })
}

type Hint = keyof typeof LAYOUT_HINTS

function parseSpacing(params: Map<string, string>, first: Gbr, warnings: string[]): number {
  const stated = params.get('step')
  const step = Number(stated)
  if (step > 0 && step <= SPACING_MAX_PCT) return step
  if (stated !== undefined)
    warnings.push(
      `The spacing "${stated.slice(0, 40)}" is none; that of the first frame counts, ${first.spacingPct} %.`,
    )
  return first.spacingPct
}

type DimensionContext = { count: number; offset: number; warnings: string[] }

function parseDimensions(params: Map<string, string>, { count, offset, warnings }: DimensionContext): GihDimension[] {
  const dim = Number(params.get('dim') ?? 1)
  if (!(Number.isInteger(dim) && dim >= 1 && dim <= DIMENSIONS_MAX)) {
    throw new FormatError(GIH, offset, `dim from 1 to ${DIMENSIONS_MAX}`)
  }
  const dimensions: GihDimension[] = []
  for (let d = 0; d < dim; d++) {
    const rank = Number(params.get(`rank${d}`) ?? (dim === 1 ? count : 1))
    if (!(Number.isInteger(rank) && rank >= 1 && rank <= FRAMES_MAX)) {
      throw new FormatError(GIH, offset, `rank${d} from 1 to ${FRAMES_MAX}`)
    }
    const keyword = params.get(`sel${d}`) ?? RULE_KEYWORD.inOrder
    const rule = RULE_OF_KEYWORD.get(keyword)
    if (!rule) warnings.push(`The rule "${keyword.slice(0, 40)}" is not known; the frames come in order.`)
    dimensions.push({ rank, rule: rule ?? 'inOrder' })
  }
  const product = dimensions.reduce((all, { rank }) => all * rank, 1)
  if (product === count) return dimensions
  warnings.push(`The ranks make ${product} frames but the file holds ${count}; they are taken as one row.`)
  return [{ rank: count, rule: dimensions[0].rule }]
}
