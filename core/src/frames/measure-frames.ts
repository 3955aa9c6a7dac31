import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading } from '../brush/recipe.ts'
import { toLuma } from '../raster/luma.ts'
import type { Pixels } from '../raster/pixels.ts'

/** What of frames is compared, one row each. */
export const FRAME_MEASURES = ['size', 'area', 'tone', 'contrast'] as const
export type FrameMeasure = (typeof FRAME_MEASURES)[number]

/** The measures of one frame. */
export type FrameFacts = Record<FrameMeasure, number> & {
  /** Degrees on the ring of hues from red; undefined where it has no colour of its own. */
  hueDeg: number | undefined
  /** The box around what paints, px; right and bottom excluded. Undefined where nothing paints. */
  box: { left: number; top: number; right: number; bottom: number } | undefined
}

/** A measure of one frame beside the others. */
export type Standing = {
  value: number
  /** The median of the others, and how far from it a frame may be. */
  usual: number
  reach: number
  isOutside: boolean
}
export type FrameStanding = Record<FrameMeasure, Standing>

/** Paint fainter than this, of 255, is not part of the mark. */
const MARK_FROM = 12
/** Channels nearer together than this are grey. */
const GREY_LEVELS = 20
/** Spreads of the others beyond which a frame stands out, and the least that always belongs together; chosen by eye. */
const SPREADS = 3
const LEAST_REACH: Record<FrameMeasure, { share: number; absolute: number }> = {
  size: { share: 0.15, absolute: 1 },
  area: { share: 0.35, absolute: 4 },
  tone: { share: 0, absolute: 0.1 },
  contrast: { share: 0, absolute: 0.08 },
}
/** A normal distribution's spread over its median absolute deviation. */
const MAD_TO_SPREAD = 1.4826

/**
 * Measures a frame as it paints: the longer side of its mark, px; the area it covers, px²; how light it is, 0…1, in its own
 * colours or as thinness of its paint; the spread of that inside the mark.
 */
export function measureFrame(pixels: Pixels, reading: PaintReading): FrameFacts {
  const coverage = toCoverage(pixels, reading)
  const isOwn = coverage.channels === 4
  const { width, height, data } = coverage
  let [left, top, right, bottom] = [width, height, 0, 0]
  let [area, count, sum, squares, east, south] = [0, 0, 0, 0, 0, 0]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += coverage.channels) {
      const alpha = data[i + coverage.channels - 1]
      if (alpha < MARK_FROM) continue
      left = Math.min(left, x)
      right = Math.max(right, x + 1)
      top = Math.min(top, y)
      bottom = y + 1
      const weight = alpha / 255
      area += weight
      const light = isOwn ? toLuma(data[i], data[i + 1], data[i + 2]) / 255 : 1 - weight
      // of paint alone every pixel counts the same: its thickness is what is measured
      const share = isOwn ? weight : 1
      count += share
      sum += share * light
      squares += share * light * light
      if (!isOwn) continue
      const [cos, sin] = hueVector(data[i], data[i + 1], data[i + 2])
      east += weight * cos
      south += weight * sin
    }
  const mean = count === 0 ? 0 : sum / count
  const isColoured = Math.hypot(east, south) > (GREY_LEVELS / 255) * area
  return {
    size: Math.max(0, right - left, bottom - top),
    area,
    tone: mean,
    contrast: count === 0 ? 0 : Math.sqrt(Math.max(0, squares / count - mean * mean)),
    hueDeg: isColoured ? ((Math.atan2(south, east) * 180) / Math.PI + 360) % 360 : undefined,
    box: count === 0 ? undefined : { left, top, right, bottom },
  }
}

/** Where a colour lies on the ring of hues, the farther from the middle the more colour it has. */
function hueVector(r: number, g: number, b: number): [cos: number, sin: number] {
  return [(r - (g + b) / 2) / 255, ((g - b) * Math.sqrt(3)) / 2 / 255]
}

/** Each frame beside all others. With fewer than three frames nothing stands out. */
export function compareFrames(facts: readonly FrameFacts[]): FrameStanding[] {
  return facts.map((_, i) => {
    const standing = (measure: FrameMeasure): Standing => {
      const value = facts[i][measure]
      const others = facts.filter((_, k) => k !== i).map((each) => each[measure])
      const usual = medianOf(others)
      const spread = MAD_TO_SPREAD * medianOf(others.map((each) => Math.abs(each - usual)))
      const { share, absolute } = LEAST_REACH[measure]
      const reach = Math.max(SPREADS * spread, share * usual, absolute)
      return { value, usual, reach, isOutside: facts.length > 2 && Math.abs(value - usual) > reach }
    }
    return Object.fromEntries(FRAME_MEASURES.map((measure) => [measure, standing(measure)])) as FrameStanding
  })
}

export function medianOf(values: readonly number[]): number {
  if (values.length === 0) return 0
  const sorted = [...values].sort((a, b) => a - b)
  const middle = Math.floor(sorted.length / 2)
  return sorted.length % 2 === 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2
}

/** How frames that stand out do so, in words: "frame 3 is 40 % smaller". */
export function describeFrames(standings: readonly FrameStanding[]): string[] {
  return standings.flatMap((standing, i) =>
    FRAME_MEASURES.filter((measure) => standing[measure].isOutside).map(
      (measure) => `frame ${i + 1} is ${WORDS[measure](standing[measure])}`,
    ),
  )
}

const percent = (value: number, usual: number) => `${Math.round(Math.abs(value / (usual || 1) - 1) * 100)} %`
const WORDS: Record<FrameMeasure, (standing: Standing) => string> = {
  size: ({ value, usual }) => `${percent(value, usual)} ${value < usual ? 'smaller' : 'larger'}`,
  area: ({ value, usual }) => `painted over ${percent(value, usual)} ${value < usual ? 'less' : 'more'}`,
  tone: ({ value, usual }) =>
    `${Math.round(Math.abs(value - usual) * 100)} points ${value < usual ? 'darker' : 'lighter'}`,
  contrast: ({ value, usual }) =>
    `${value < usual ? 'flatter' : 'harsher'} by ${Math.round(Math.abs(value - usual) * 100)} points`,
}

/** Fewer frames than this look repeated in a stroke; common practice, no source. */
export const FRAMES_ENOUGH = 3
