import { type Rows, usualOf } from '../number-row.ts'
import { areaOf, findContours, type Ring } from './contours.ts'
import { coverPaths, overlapOf } from './cover-paths.ts'
import { type CurvePath, fitCurves, USUAL_CORNER_DEG } from './fit-curves.ts'
import { type RibbonBounds, ribbonAttributes } from './ribbon-drawing.ts'

export const TONES_MAX = 6

export type TraceSettings = {
  /** How far the outline may lie from the pixels' own, px. */
  tolerancePx: number
  /** Marks and holes of less than this are dropped, px². */
  speckPx: number
  /** Coverage from which on it is inside, 0…255; of one tone alone. */
  level: number
  /** Layers that lie over one another, so that half coverage stays half: 1 for a shape. */
  tones: number
  /** Where the outline turns by more, degrees, it keeps a corner. */
  cornerDeg: number
}
/** What of a trace is set by hand, beside its tolerance. */
export const TRACE_NUMBERS = {
  speckPx: { label: 'Specks below', unit: 'px²', from: 0, to: 400, usual: 4, eased: true },
  cornerDeg: { label: 'Corners from', unit: '°', from: 0, to: 180, step: 5, usual: USUAL_CORNER_DEG },
  tones: { label: 'Tones', unit: '', from: 1, to: TONES_MAX, usual: 1, whole: true },
} satisfies Rows
export const USUAL_TRACE: TraceSettings = {
  tolerancePx: 0.7,
  level: 127.5,
  ...usualOf(TRACE_NUMBERS),
}

/** Outlines of one tone, and how opaque what they enclose lies over the tones below. */
type Tone<Outline> = { opacity: number } & Outline
/** A picture as outlines. */
export type Traced = { width: number; height: number; tones: Tone<{ paths: CurvePath[] }>[]; anchors: number }

/** Outlines of a picture, before any curve is fitted: what all tolerances begin with. */
export type Outlines = { width: number; height: number; tones: Tone<{ rings: Ring[] }>[] }

/**
 * The outlines of what a picture covers, without specks. Of n tones the k-th begins where coverage is nearer to k/n than
 * to what lies below, and is 1/(n - k + 1) opaque: laid over one another they then cover k/n.
 * @param cover A byte a pixel, 0 nothing to 255 fully.
 */
export function findOutlines(
  cover: Uint8Array,
  width: number,
  height: number,
  { speckPx, level, tones }: Pick<TraceSettings, 'speckPx' | 'level' | 'tones'>,
): Outlines {
  return {
    width,
    height,
    tones: Array.from({ length: tones }, (_, k) => {
      // halves keep a level from being met exactly
      const from = tones === 1 ? level : Math.floor((255 * (k + 0.5)) / tones) + 0.5
      const rings = findContours(cover, width, height, from).filter((ring) => Math.abs(areaOf(ring)) >= speckPx)
      return { opacity: 1 / (tones - k), rings }
    }),
  }
}

/** Fits curves to outlines, as few as stay within the tolerance. */
export function fitOutlines(
  { width, height, tones }: Outlines,
  { tolerancePx, cornerDeg = USUAL_CORNER_DEG }: Pick<TraceSettings, 'tolerancePx'> & Partial<TraceSettings>,
): Traced {
  const fitted = tones.map(({ opacity, rings }) => ({
    opacity,
    paths: rings.map((ring) => fitCurves(ring, tolerancePx, cornerDeg)),
  }))
  return { width, height, tones: fitted, anchors: countAnchors(fitted) }
}

export const countAnchors = (tones: Traced['tones']): number =>
  tones.reduce((sum, { paths }) => sum + paths.reduce((all, { curves }) => all + curves.length / 6, 0), 0)

export const traceCover = (cover: Uint8Array, width: number, height: number, settings: TraceSettings): Traced =>
  fitOutlines(findOutlines(cover, width, height, settings), settings)

/** What outlines cover, tones over one another, a byte a pixel. */
export function coverTraced({ width, height, tones }: Traced): Uint8Array {
  const [first, ...others] = tones
  if (!first) return new Uint8Array(width * height)
  if (others.length === 0) return coverPaths(first.paths, width, height)
  const clear = new Float32Array(width * height).fill(1)
  for (const { opacity, paths } of tones) {
    const over = coverPaths(paths, width, height)
    for (let i = 0; i < over.length; i++) clear[i] *= 1 - (opacity * over[i]) / 255
  }
  return Uint8Array.from(clear, (share) => Math.round(255 * (1 - share)))
}

/** How much of a picture and its outlines is common to both, 0…1; of one tone the picture counts as a bitmap at the level. */
export function overlapWith(traced: Traced, cover: Uint8Array, level: number): number {
  const wanted = traced.tones.length > 1 ? cover : cover.map((value) => (value > level ? 255 : 0))
  return overlapOf(wanted, coverTraced(traced))
}

/** One place on the curve of detail: how few anchors, and what they cost. */
export type Detail = { tolerancePx: number; anchors: number; bytes: number; overlap: number }

/** Tolerances that are offered, px. */
export const TOLERANCES_PX = [0.35, 0.5, 0.7, 1, 1.4, 2, 2.8, 4, 5.6] as const

/** What every offered tolerance gives, the finest first: overlap against anchors. */
export function sweepDetail(
  outlines: Outlines,
  cover: Uint8Array,
  { level, cornerDeg }: Pick<TraceSettings, 'level'> & Partial<TraceSettings>,
): Detail[] {
  return TOLERANCES_PX.map((tolerancePx) => {
    const traced = fitOutlines(outlines, { tolerancePx, ...(cornerDeg === undefined ? {} : { cornerDeg }) })
    return {
      tolerancePx,
      anchors: traced.anchors,
      bytes: toTraceSvg(traced).length,
      overlap: overlapWith(traced, cover, level),
    }
  })
}

/** What the outlines are before curves are fitted: a point for each crossing of the level, straight lines between. */
export function measureOutlines(outlines: Outlines): { anchors: number; bytes: number } {
  const { tones, ...size } = outlines
  const straight = tones.map(({ opacity, rings }) => ({
    opacity,
    data: rings.map((ring) => `M${Array.from(ring, short).join(' ')}Z`).join(''),
  }))
  const anchors = tones.reduce((sum, { rings }) => sum + rings.reduce((all, ring) => all + ring.length / 2, 0), 0)
  return { anchors, bytes: drawingOf({ ...size, tones: straight }).length }
}

/** Places are told to a tenth of a px: finer than any tolerance. */
const short = (value: number) => String(Math.round(value * 10) / 10)

/** Outlines as the data of one path, holes left open; what is clear is not drawn. */
export function toPathData(paths: readonly CurvePath[]): string {
  return paths
    .map(({ x, y, curves }) => {
      const parts: string[] = []
      for (let c = 0; c < curves.length; c += 6)
        parts.push(`C${Array.from(curves.subarray(c, c + 6), short).join(' ')}`)
      return `M${short(x)} ${short(y)}${parts.join('')}Z`
    })
    .join('')
}

/** The outlines as a drawing of the picture's size, in whatever colour is current. */
export function toTraceSvg({ tones, ...size }: Traced, bounds?: RibbonBounds): string {
  return drawingOf(
    { ...size, tones: tones.map(({ opacity, paths }) => ({ opacity, data: toPathData(paths) })) },
    bounds,
  )
}

type Drawn = { width: number; height: number; tones: { opacity: number; data: string }[] }

function drawingOf({ width, height, tones }: Drawn, bounds?: RibbonBounds): string {
  const drawn = tones.map(({ opacity, data }) => {
    const opaque = opacity < 1 ? ` fill-opacity="${Math.round(opacity * 1e4) / 1e4}"` : ''
    return data && `<path fill="currentColor"${opaque} fill-rule="nonzero" d="${data}"/>`
  })
  const ribbon = bounds ? ribbonAttributes(bounds) : ''
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"${ribbon}>${drawn.join('')}</svg>\n`
}
