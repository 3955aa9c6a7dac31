import { createNoise } from '../../drawn/src/ink.ts'

/** A tip as curators have them: a soft shape with paper-like grain, grey. */
export function tipPixels(side: number, seed = 1) {
  const coarse = createNoise(seed, side / 6)
  const fine = createNoise(seed + 1, 3)
  const data = new Uint8Array(side * side)
  for (let y = 0, i = 0; y < side; y++) {
    for (let x = 0; x < side; x++, i++) {
      const inside = Math.max(0, 1 - Math.hypot(x / side - 0.5, y / side - 0.5) * 2.1)
      data[i] = Math.round(255 - 235 * inside * (0.5 + 0.5 * coarse(x, y)) * (0.8 + 0.2 * fine(x, y)))
    }
  }
  return { width: side, height: side, channels: 1 as const, data }
}
