import type { Plane } from './ssim.ts'

/** Directions and strengths that edges are told apart by. */
const DIRECTIONS = 16
const STRENGTHS = 4
/** Steps between neighbours, levels: below the first there is no edge; each class begins at twice the one before. */
const WEAKEST = 8

/**
 * The share of edges that two pictures have in common by direction and strength, wherever they lie: histograms of gradients,
 * what both hold over what either holds. 1 where both hold the same, or none at all.
 * @see Swain and Ballard, "Color indexing", 1991, for the intersection of histograms (here of gradients).
 */
export function edgesInCommon(a: Plane, b: Plane): number {
  const [one, other] = [countEdges(a), countEdges(b)]
  let [common, either] = [0, 0]
  for (let i = 0; i < one.length; i++) {
    common += Math.min(one[i], other[i])
    either += Math.max(one[i], other[i])
  }
  return either === 0 ? 1 : common / either
}

/** Each edge counts by its strength, shared between the nearest directions and strengths. */
function countEdges({ width, height, data }: Plane): Float64Array {
  const counts = new Float64Array(DIRECTIONS * STRENGTHS)
  for (let y = 1; y < height - 1; y++)
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      const dx = data[i + 1] - data[i - 1]
      const dy = data[i + width] - data[i - width]
      const strength = Math.hypot(dx, dy)
      if (strength < WEAKEST) continue
      const grade = Math.min(STRENGTHS - 1, Math.log2(strength / WEAKEST))
      const turn = (((Math.atan2(dy, dx) / Math.PI) * DIRECTIONS) / 2 + DIRECTIONS) % DIRECTIONS
      for (let k = 0; k < 4; k++) {
        const [g, d] = [Math.floor(grade) + (k >> 1), Math.floor(turn) + (k & 1)]
        const share = (1 - Math.abs(grade - g)) * (1 - Math.abs(turn - d))
        if (share > 0) counts[g * DIRECTIONS + (d % DIRECTIONS)] += strength * share
      }
    }
  return counts
}
