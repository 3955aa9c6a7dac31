/**
 * Blurs bytes by three running means, near to a gaussian (Wells 1986, "Efficient synthesis of gaussian filters by cascaded
 * uniform filters"); beyond the border the border goes on.
 *
 * @param deviationPx Standard deviation, px, at least 0.
 */
export function blurBytes(data: Uint8Array, width: number, height: number, deviationPx: number): Uint8Array {
  if (deviationPx < 0.2) return data.slice()
  let from = Float32Array.from(data)
  let to = new Float32Array(data.length)
  for (const radius of radiiOf(deviationPx)) {
    if (radius === 0) continue
    for (let y = 0; y < height; y++) meanAlong(from, to, { start: y * width, step: 1, count: width }, radius)
    for (let x = 0; x < width; x++) meanAlong(to, from, { start: x, step: width, count: height }, radius)
  }
  const out = new Uint8Array(data.length)
  for (let i = 0; i < out.length; i++) out[i] = from[i] + 0.5
  to = from = new Float32Array(0)
  return out
}

/** Radii of three means whose variances add up as near as whole px allow. */
function radiiOf(deviationPx: number): number[] {
  const variance = 12 * deviationPx * deviationPx
  const low = Math.max(0, Math.floor((Math.sqrt(variance / 3 + 1) - 1) / 2))
  const varianceOf = (radius: number) => (2 * radius + 1) ** 2 - 1
  const gain = varianceOf(low + 1) - varianceOf(low)
  const larger = Math.min(3, Math.max(0, Math.round((variance - 3 * varianceOf(low)) / gain)))
  return [0, 1, 2].map((i) => (i < larger ? low + 1 : low))
}

type Line = { start: number; step: number; count: number }

function meanAlong(from: Float32Array, to: Float32Array, { start, step, count }: Line, radius: number): void {
  const last = start + (count - 1) * step
  const share = 1 / (2 * radius + 1)
  let sum = from[start] * (radius + 1)
  for (let k = 1; k <= radius; k++) sum += from[Math.min(last, start + k * step)]
  for (let k = 0, i = start; k < count; k++, i += step) {
    to[i] = sum * share
    sum += from[Math.min(last, i + (radius + 1) * step)] - from[Math.max(start, i - radius * step)]
  }
}
