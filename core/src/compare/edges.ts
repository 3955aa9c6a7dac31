import type { Plane } from './ssim.ts'

/** Directions and strengths that edges are told apart by. */
const DIRECTIONS = 16
const STRENGTHS = 4
/** Steps between neighbours, levels: below the first there is no edge; each class begins at twice the one before. */
const WEAKEST = 8

/** How many edges of each direction and strength a picture holds, wherever they lie. */
export type Edges = Float64Array

/**
 * The share of edges that two pictures have in common: what both hold over what either holds. 1 where both hold the same, or
 * none at all.
 * @see Swain and Ballard, "Color indexing", 1991, for the intersection of histograms (here of gradients).
 */
export function edgesInCommon(one: Edges, other: Edges): number {
  let [common, either] = [0, 0]
  for (let i = 0; i < one.length; i++) {
    common += Math.min(one[i], other[i])
    either += Math.max(one[i], other[i])
  }
  return either === 0 ? 1 : common / either
}

/** Each edge counts by its strength, shared between the nearest directions and strengths. */
export function countEdges({ width, height, data }: Plane): Edges {
  const counts = new Float64Array(DIRECTIONS * STRENGTHS)
  for (let y = 1; y < height - 1; y++)
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      const dx = data[i + 1] - data[i - 1]
      const dy = data[i + width] - data[i - width]
      const square = dx * dx + dy * dy
      if (square < WEAKEST * WEAKEST) continue
      const strength = Math.sqrt(square)
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
