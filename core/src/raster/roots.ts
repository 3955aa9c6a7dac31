// Roots that give the same bits in every engine: only + - * / and Math.sqrt, which IEEE 754 defines exactly. Engines
// are free to differ in the last bit of Math.cbrt and Math.pow, and a painted pixel must not.

/** Steps of Newton's method; each doubles the right digits, and the start below is within a factor of two. */
const NEWTON_STEPS = 7

/** Cube root of any x. */
export function cubeRoot(x: number): number {
  if (x < 0) return -cubeRoot(-x)
  if (x === 0) return 0
  // x^(1/4) · x^(1/16) · x^(1/64) is x^(21/64), near x^(1/3)
  const fourth = Math.sqrt(Math.sqrt(x))
  const sixteenth = Math.sqrt(Math.sqrt(fourth))
  let root = fourth * sixteenth * Math.sqrt(Math.sqrt(sixteenth))
  for (let i = 0; i < NEWTON_STEPS; i++) root -= (root - x / (root * root)) / 3
  return root
}

/** Fifth root of x ≥ 0. */
export function fifthRoot(x: number): number {
  if (x <= 0) return 0
  // x^(1/8) · x^(1/16) is x^(3/16), near x^(1/5)
  const eighth = Math.sqrt(Math.sqrt(Math.sqrt(x)))
  let root = eighth * Math.sqrt(eighth)
  for (let i = 0; i < NEWTON_STEPS; i++) {
    const square = root * root
    root -= (root - x / (square * square)) / 5
  }
  return root
}
