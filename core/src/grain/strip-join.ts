import { toGreyOnPaper } from '../raster/grey.ts'
import type { Pixels } from '../raster/pixels.ts'

/** A strip's lead-in and lead-out, px. */
export type StripBounds = { leadInPx: number; leadOutPx: number }
/** Bounds with the break at their join: the step there over the mean step between neighbours, 1 or less cannot be seen. */
export type StripJoin = StripBounds & { break: number }

/** Columns compared on either side of a join, so that direction has to agree and not only tone. */
const REACH = 3
/** The repeated part keeps at least this share of the strip. */
const BODY_MIN_SHARE = 0.25
/** Bounds are looked for in the outer parts: this share of the strip from either end. */
const SEARCH_SHARE = 0.45
/** Breaks below this cannot be told from the strip's own grain; of those the longest repeated part is the best. */
const UNSEEN = 0.25
/** Rows that the search looks at; more say nothing new. */
const SEARCH_ROWS = 48

/** The break where the repeated part of a strip meets itself. */
export function measureJoin(strip: Pixels, { leadInPx, leadOutPx }: StripBounds): number {
  const columns = readColumns(strip, strip.height)
  return joinBreak(columns, Math.round(leadInPx), strip.width - Math.round(leadOutPx))
}

/** The bounds with the least break; of those whose break is not seen, the ones with the longest repeated part. */
export function findJoin(strip: Pixels): StripJoin {
  const columns = readColumns(strip, SEARCH_ROWS)
  const reach = Math.floor(strip.width * SEARCH_SHARE)
  const bodyMin = Math.max(1, Math.ceil(strip.width * BODY_MIN_SHARE))
  let best = { leadInPx: 0, leadOutPx: 0, break: joinBreak(columns, 0, strip.width) }
  for (let from = 0; from <= reach; from++) {
    for (let to = strip.width; to >= strip.width - reach && to - from >= bodyMin; to--) {
      const found = joinBreak(columns, from, to)
      const longer = from + strip.width - to < best.leadInPx + best.leadOutPx
      const [seen, seenBest] = [Math.max(UNSEEN, found), Math.max(UNSEEN, best.break)]
      if (seen < seenBest || (seen === seenBest && longer))
        best = { leadInPx: from, leadOutPx: strip.width - to, break: found }
    }
  }
  return { ...best, break: measureJoin(strip, best) }
}

type Columns = { width: number; rows: number; grey: Float64Array; insideStep: number }

/** Greys column by column, at most so many rows evenly spread. */
function readColumns(strip: Pixels, rowsMax: number): Columns {
  const { width, height } = strip
  const all = toGreyOnPaper(strip)
  const rows = Math.min(height, rowsMax)
  const grey = new Float64Array(width * rows)
  let sum = 0
  for (let x = 0; x < width; x++) {
    for (let r = 0; r < rows; r++) {
      grey[x * rows + r] = all[Math.floor(((r + 0.5) * height) / rows) * width + x]
      if (x > 0) sum += Math.abs(grey[x * rows + r] - grey[(x - 1) * rows + r])
    }
  }
  return { width, rows, grey, insideStep: width > 1 ? sum / ((width - 1) * rows) : 0 }
}

/**
 * What comes after `to` is what lies at `from`, and what comes before `from` is what lies before `to`: the pictures on
 * both sides must agree for the join not to show.
 */
function joinBreak({ width, rows, grey, insideStep }: Columns, from: number, to: number): number {
  let sum = 0
  let n = 0
  for (let k = 0; k < REACH; k++) {
    // the k-th column after the join against where the strip itself would have gone on
    if (to + k < width) [sum, n] = [sum + difference(grey, rows, from + k, to + k), n + 1]
    if (from - 1 - k >= 0) [sum, n] = [sum + difference(grey, rows, from - 1 - k, to - 1 - k), n + 1]
  }
  // With no column beyond the bounds to compare: against where the last two columns were heading.
  const step = n > 0 ? sum / n : heading(grey, rows, from, to)
  return insideStep === 0 ? (step === 0 ? 0 : step) : step / insideStep
}

function difference(grey: Float64Array, rows: number, a: number, b: number): number {
  let sum = 0
  for (let r = 0; r < rows; r++) sum += Math.abs(grey[a * rows + r] - grey[b * rows + r])
  return sum / rows
}

/** How far the column at `from` is from the straight continuation of the two columns before `to`. */
function heading(grey: Float64Array, rows: number, from: number, to: number): number {
  if (to < 2) return 0
  let sum = 0
  for (let r = 0; r < rows; r++) {
    const expected = 2 * grey[(to - 1) * rows + r] - grey[(to - 2) * rows + r]
    sum += Math.abs(grey[from * rows + r] - expected)
  }
  return sum / rows
}
