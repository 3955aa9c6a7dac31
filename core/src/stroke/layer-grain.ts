import { type GrainPose, layGrain } from '../grain/lay-grain.ts'
import { ArenaPlan } from './kernel/arena-plan.ts'
import type { Layer } from './kernel/composite.ts'
import { createGrainRow } from './kernel/plain.ts'
import { createRandom } from './path/random.ts'
import { cosSinDeg } from './path/trig.ts'
import type { StrokeOptions } from './stroke.ts'

/** A grain that lies still under a stroke and weighs its whole layer, so that overlapping stamps cannot fill it up. */
export type LayerGrain = {
  /** Where the stroke begins: what a grain anchored to strokes lies on. */
  begin(origin: { x: number; y: number }): void
  weigh: NonNullable<Layer['weigh']>
}

/** The corner that a grain anchored to the canvas lies on. */
export const CANVAS_CORNER = { x: 0, y: 0 }
/** Keeps this draw apart from those of the stamps, which start from the bare seed. */
const STREAM = 0x67726169

/** The turn of a stroke's grain in degrees, 0 to 360, where the recipe draws one for each stroke. */
export const strokeGrainTurn = (seed: number): number => 360 * createRandom(seed, STREAM)()

const turn = new Float64Array(2)

/** The pose of a grain at a scale in percent, turned clockwise, its corner on `origin`. */
export function grainPose(scalePct: number, turnDeg: number, origin: { x: number; y: number }): GrainPose {
  cosSinDeg(turnDeg, turn)
  return { scale: scalePct / 100, cos: turn[0], sin: turn[1], ...origin }
}

/** The grain of a stroke's layer; undefined where the brush has none. */
export function createLayerGrain({ brush, recipe, seed, width }: StrokeOptions): LayerGrain | undefined {
  const { grain } = brush
  const settings = recipe.ground.grain
  if (!grain || !settings) return undefined
  const turnDeg = settings.randomTurn === 'stroke' ? strokeGrainTurn(seed) : 0
  let laid = layGrain(grain, grainPose(settings.scalePct, turnDeg, CANVAS_CORNER))
  const plan = new ArenaPlan()
  const weightsAt = plan.take(width * 2)
  const levelAt = plan.take(laid.level.data.length)
  const memory = new ArrayBuffer(plan.bytes)
  new Uint8Array(memory).set(laid.level.data, levelAt)
  const grainRow = createGrainRow(memory)
  const weights = new Int16Array(memory, weightsAt, width)
  return {
    begin(origin) {
      if (settings.anchor === 'stroke') laid = layGrain(grain, grainPose(settings.scalePct, turnDeg, origin))
    },
    weigh(y, left, right) {
      const { level, periodU, periodV, du, dv } = laid
      const row = { level: levelAt, stride: level.stride, periodU, periodV, du, dv, ...laid.startAt(left, y) }
      grainRow(weightsAt, right - left, row)
      return weights
    },
  }
}
