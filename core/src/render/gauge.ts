import { SAMPLE_STRIDE, type Samples } from '../stroke/path/samples.ts'

/** The standard strokes on which everything is shown and measured. */
export type GaugeStrokes = { level: Samples; curve: Samples; zigzag: Samples; stamps: Samples[] }

const STEP_PX = 2 // between samples; finer than any pen reports
const CURVE_PRESSURE = 0.7
const SLOW_PX_PER_MS = 0.5
const FAST_PX_PER_MS = 4
const ZIGZAG_TURNS = 6

/**
 * Gauge strokes laid out in four bands from the top: a level line with pressure 0-1-0, an S curve at pressure 0.7,
 * a fast zigzag, and three single stamps.
 * @param width, height The picture, px. @param marginPx Kept free at every side.
 */
export function gaugeStrokes(width: number, height: number, marginPx: number): GaugeStrokes {
  const left = marginPx
  const right = width - marginPx
  const band = height / 4
  return {
    level: levelStroke(left, right, band / 2),
    curve: curveStroke({
      left,
      right,
      top: band + Math.min(marginPx, band / 3),
      bottom: 2 * band - Math.min(marginPx, band / 3),
    }),
    zigzag: zigzagStroke({ left, right, top: 2 * band + band / 4, bottom: 3 * band - band / 4 }),
    stamps: [1, 3, 5].map((sixth) => Float64Array.of(left + ((right - left) * sixth) / 6, 3.5 * band, 1, 0, 0, 0)),
  }
}

/** One long stroke for a list: a slow wave from left to right, pressure 0-1-0. */
export function listStroke(width: number, height: number, marginPx: number): Samples {
  const swing = Math.max(0, Math.min(height * 0.18, height / 2 - marginPx))
  const left = Math.min(marginPx, width / 4)
  const box = { left, right: width - left, top: height / 2 - swing, bottom: height / 2 + swing }
  return samplePath(curvePoint(box), { length: box.right - box.left, pressure: rise, speed: SLOW_PX_PER_MS })
}

type Box = { left: number; right: number; top: number; bottom: number }
type PathPoint = (t: number) => [x: number, y: number]

/** Pressure 0-1-0 along a stroke. */
const rise = (t: number) => 1 - Math.abs(2 * t - 1)

function levelStroke(left: number, right: number, y: number): Samples {
  return samplePath((t) => [left + (right - left) * t, y], {
    length: right - left,
    pressure: rise,
    speed: SLOW_PX_PER_MS,
  })
}

function curveStroke(box: Box): Samples {
  const length = (box.right - box.left) * 1.3
  return samplePath(curvePoint(box), { length, pressure: () => CURVE_PRESSURE, speed: SLOW_PX_PER_MS })
}

/** A cubic that leaves level, swings to the bottom, then the top, and ends level. */
const curvePoint =
  (box: Box): PathPoint =>
  (t) => {
    const x = box.left + (box.right - box.left) * t
    const middle = (box.top + box.bottom) / 2
    // t(1-t)(1-2t) has its extremes +-0.09623 at (1 +- 1/sqrt 3) / 2
    const wave = (t * (1 - t) * (1 - 2 * t)) / 0.0962250449
    return [x, middle + (wave * (box.bottom - box.top)) / 2]
  }

function zigzagStroke(box: Box): Samples {
  const rowPx = (box.right - box.left) / ZIGZAG_TURNS
  const rise = box.bottom - box.top
  const length = ZIGZAG_TURNS * Math.sqrt(rowPx * rowPx + rise * rise)
  const point: PathPoint = (t) => {
    const turn = t * ZIGZAG_TURNS
    const part = turn - Math.floor(turn)
    const down = Math.floor(turn) % 2 === 0 ? part : 1 - part
    return [box.left + (box.right - box.left) * t, box.top + rise * down]
  }
  return samplePath(point, { length, pressure: () => 1, speed: FAST_PX_PER_MS })
}

function samplePath(
  point: PathPoint,
  { length, pressure, speed }: { length: number; pressure: (t: number) => number; speed: number },
): Samples {
  const count = Math.max(2, Math.ceil(length / STEP_PX) + 1)
  const samples = new Float64Array(count * SAMPLE_STRIDE)
  for (let i = 0; i < count; i++) {
    const t = i / (count - 1)
    const [x, y] = point(t)
    samples.set([x, y, pressure(t), 0, 0, (t * length) / speed], i * SAMPLE_STRIDE)
  }
  return samples
}
