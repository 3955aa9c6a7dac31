import * as v from 'valibot'
import { numberIn, type Rows, shareRow, usualOf, wholeIn } from '../../number-row.ts'
import { findMark } from '../steps/trim.ts'
import { cutWork, type Work } from '../work.ts'

export const ORNAMENT_NUMBERS = {
  count: { label: 'How many', unit: '', from: 1, to: 72, usual: 8, eased: true, whole: true },
  radius: shareRow('Away from the middle', { from: -1, to: 3, most: 5, usual: 0.15 }),
  stretch: shareRow('Width', { from: 0.1, to: 4, most: 10, eased: true }),
  startDeg: { label: 'First one points', unit: '°', from: -180, to: 180, least: -360, most: 360, usual: 0 },
  sidePx: { label: 'Drawn at', unit: 'px', from: 64, to: 4096, least: 16, usual: 1024, eased: true, whole: true },
} satisfies Rows

/** A shape that is repeated around a middle, its upper end outward. */
export const Ornament = v.strictObject({
  count: wholeIn(ORNAMENT_NUMBERS.count),
  /** The drawing is the left half of the shape; the right one is its mirror image. */
  mirror: v.boolean(),
  /** How far the lower end lies from the middle, in heights of the shape; below 0 the shapes lie over each other. */
  radius: numberIn(ORNAMENT_NUMBERS.radius),
  /** How wide the shape is, beside its own width. */
  stretch: numberIn(ORNAMENT_NUMBERS.stretch),
  /** Where the first one points, degrees clockwise from up. */
  startDeg: numberIn(ORNAMENT_NUMBERS.startDeg),
  /** Side of the ornament, px. */
  sidePx: wholeIn(ORNAMENT_NUMBERS.sidePx),
})
export type Ornament = v.InferOutput<typeof Ornament>

export const USUAL_ORNAMENT: Ornament = { ...usualOf(ORNAMENT_NUMBERS), mirror: true }

/** Copies beside the nearest one that may reach a pixel. */
const NEIGHBOURS = 2
const FULL_TURN = 2 * Math.PI
/** The part of the side that the ornament fills. */
const ROOM_SHARE = 0.98

/**
 * Repeats what paints around the middle of a square. Where copies lie over each other, the one that paints more is seen.
 * @param scale Px of the square a px of the finished one: below 1 for a preview.
 */
export function repeatAround(
  work: Work,
  { count, mirror, radius, stretch, startDeg, sidePx }: Ornament,
  scale = 1,
): Work {
  const side = Math.max(1, Math.round(sidePx * scale))
  const out: Work = {
    ...work,
    ...{
      width: side,
      height: side,
      colour: new Uint8Array(side * side * 4),
      grey: new Uint8Array(side * side).fill(255),
    },
    place: { scale, left: 0, top: 0, angleDeg: 0, sourceWidth: side / scale, sourceHeight: side / scale },
  }
  const box = findMark(work)
  if (!box) return out
  const shape = cutWork(work, box.left, box.top, box.right - box.left, box.bottom - box.top)
  const halfWidth = (mirror ? shape.width : shape.width / 2) * stretch
  const lower = radius * shape.height
  const reach = Math.max(Math.hypot(halfWidth, lower + shape.height), Math.hypot(halfWidth, lower), 1)
  const unit = (2 * reach) / (ROOM_SHARE * side)
  const sector = FULL_TURN / count
  const start = (startDeg / 360) * FULL_TURN
  for (let y = 0, o = 0; y < side; y++)
    for (let x = 0; x < side; x++, o++) {
      const dx = (x + 0.5 - side / 2) * unit
      const dy = (side / 2 - y - 0.5) * unit
      const far = Math.hypot(dx, dy)
      const nearest = Math.round((Math.atan2(dx, dy) - start) / sector)
      const most = Math.min(NEIGHBOURS, Math.floor(count / 2))
      for (let k = nearest - most; k <= nearest + most; k++) {
        const angle = Math.atan2(dx, dy) - start - k * sector
        // across and up, in px of the shape; its lower end lies at its radius
        const across = (far * Math.sin(angle)) / stretch
        const up = far * Math.cos(angle) - lower
        const column = mirror ? shape.width - Math.abs(across) : shape.width / 2 + across
        // the half ends on its axis: nothing of the ground beyond it is mixed in
        lay(out, o, shape, mirror ? Math.min(shape.width - 1, column - 0.5) : column - 0.5, shape.height - up - 0.5)
      }
    }
  return out
}

/** Takes a place of the shape where it paints more than what is there, bilinearly. */
function lay(out: Work, o: number, { width, height, grey, colour }: Work, x: number, y: number): void {
  const x0 = Math.floor(x)
  const y0 = Math.floor(y)
  if (x0 < -1 || y0 < -1 || x0 >= width || y0 >= height) return
  const at = (px: number, py: number) => (px < 0 || py < 0 || px >= width || py >= height ? 255 : grey[py * width + px])
  const top = at(x0, y0) + (at(x0 + 1, y0) - at(x0, y0)) * (x - x0)
  const bottom = at(x0, y0 + 1) + (at(x0 + 1, y0 + 1) - at(x0, y0 + 1)) * (x - x0)
  const level = Math.round(top + (bottom - top) * (y - y0))
  if (level >= out.grey[o]) return
  out.grey[o] = level
  const from =
    4 * (Math.min(height - 1, Math.max(0, Math.round(y))) * width + Math.min(width - 1, Math.max(0, Math.round(x))))
  out.colour.set(colour.subarray(from, from + 4), 4 * o)
}
