import { areaOf, findContours, type Ring } from './contours.ts'
import { coverPaths, overlapOf } from './cover-paths.ts'
import { type CurvePath, fitCurves } from './fit-curves.ts'

export type TraceSettings = {
  /** How far the outline may lie from the pixels' own, px. */
  tolerancePx: number
  /** Marks and holes of less than this are dropped, px². */
  speckPx: number
  /** Coverage from which on it is inside, 0…255. */
  level: number
}
export const USUAL_TRACE: TraceSettings = { tolerancePx: 0.7, speckPx: 4, level: 127.5 }

/** A picture as outlines. */
export type Traced = { width: number; height: number; paths: CurvePath[]; anchors: number }

/** Outlines of a picture, before any curve is fitted: what all tolerances begin with. */
export type Outlines = { width: number; height: number; rings: Ring[] }

/**
 * The outlines of what a picture covers, without specks.
 * @param cover A byte a pixel, 0 nothing to 255 fully.
 */
export function findOutlines(
  cover: Uint8Array,
  width: number,
  height: number,
  { speckPx, level }: TraceSettings,
): Outlines {
  const rings = findContours(cover, width, height, level).filter((ring) => Math.abs(areaOf(ring)) >= speckPx)
  return { width, height, rings }
}

/** Fits curves to outlines, as few as stay within the tolerance. */
export function fitOutlines({ width, height, rings }: Outlines, tolerancePx: number): Traced {
  const paths = rings.map((ring) => fitCurves(ring, tolerancePx))
  return { width, height, paths, anchors: paths.reduce((sum, { curves }) => sum + curves.length / 6, 0) }
}

export const traceCover = (cover: Uint8Array, width: number, height: number, settings: TraceSettings): Traced =>
  fitOutlines(findOutlines(cover, width, height, settings), settings.tolerancePx)

/** How much of a picture and its outlines is common to both, 0…1; the picture counts as a bitmap at the level. */
export function overlapWith({ width, height, paths }: Traced, cover: Uint8Array, level: number): number {
  const bitmap = cover.map((value) => (value > level ? 255 : 0))
  return overlapOf(bitmap, coverPaths(paths, width, height))
}

/** One place on the curve of detail: how few anchors, and what they cost. */
export type Detail = { tolerancePx: number; anchors: number; bytes: number; overlap: number }

/** Tolerances that are offered, px. */
export const TOLERANCES_PX = [0.35, 0.5, 0.7, 1, 1.4, 2, 2.8, 4, 5.6] as const

/** What every offered tolerance gives, the finest first: overlap against anchors. */
export function sweepDetail(outlines: Outlines, cover: Uint8Array, level: number): Detail[] {
  return TOLERANCES_PX.map((tolerancePx) => {
    const traced = fitOutlines(outlines, tolerancePx)
    return {
      tolerancePx,
      anchors: traced.anchors,
      bytes: toTraceSvg(traced).length,
      overlap: overlapWith(traced, cover, level),
    }
  })
}

/** Places are told to a tenth of a px: finer than any tolerance. */
const short = (value: number) => String(Math.round(value * 10) / 10)

/** The outlines as one path, holes left open; what is clear is not drawn. */
export function toPathData({ paths }: Pick<Traced, 'paths'>): string {
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
export function toTraceSvg(traced: Traced): string {
  const { width, height } = traced
  const data = toPathData(traced)
  const drawn = data && `<path fill="currentColor" fill-rule="nonzero" d="${data}"/>`
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${drawn}</svg>\n`
}
