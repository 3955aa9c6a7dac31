/** How many numbers are mixed at once. */
export const MIXED = 128

/**
 * The Walsh-Hadamard transform, in place and not scaled: each number becomes a sum of all with signs of its own. After
 * the signs of some were flipped at random these sums serve as random projections, at 7 additions a number.
 * @see N. Ailon and B. Chazelle, "The fast Johnson-Lindenstrauss transform", 2009.
 */
export function mixWaves(numbers: Float32Array): void {
  for (let half = 1; half < numbers.length; half *= 2) {
    for (let start = 0; start < numbers.length; start += 2 * half) {
      for (let i = start; i < start + half; i++) {
        const a = numbers[i]
        const b = numbers[i + half]
        numbers[i] = a + b
        numbers[i + half] = a - b
      }
    }
  }
}
