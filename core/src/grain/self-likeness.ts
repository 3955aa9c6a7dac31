import FFT from 'fft.js'

/** Lines of a picture, all of one length. */
export type Lines = readonly Float32Array[]

/** A line of less spread than this, levels squared, is even. */
const LEAST_SPREAD = 0.01

/** Pearson's correlation of many pairs of values, of which only sums are kept. */
class Correlation {
  private varianceA = 0
  private varianceB = 0
  private together = 0
  private all = 0
  /** @param sums Of a, b, their squares and their product over one line, about the means of which they are taken. */
  add(count: number, a: number, b: number, aa: number, bb: number, ab: number): void {
    this.varianceA += aa - (a * a) / count
    this.varianceB += bb - (b * b) / count
    this.together += ab - (a * b) / count
    this.all += count
  }
  get value(): number {
    const spread = Math.sqrt(Math.max(0, this.varianceA) * Math.max(0, this.varianceB))
    return spread > LEAST_SPREAD * this.all ? this.together / spread : 0
  }
}

/** How alike all lines are to themselves, moved by a lag, within the tile: Pearson's correlation. */
export const likenessAt = (lines: Lines, lag: number): number =>
  likenessOf(lines, (length) => ({ from: 0, to: lag, count: length - lag }))

/** How alike all lines are to themselves, moved by a lag, where that carries them over the tile's end. */
export const likenessOverWrap = (lines: Lines, lag: number): number => {
  const px = Math.round(lag)
  return likenessOf(lines, (length) => ({ from: length - px, to: 0, count: Math.min(px, length) }))
}

/** Two parts of each line, about the means of those parts. */
function likenessOf(lines: Lines, parts: (length: number) => { from: number; to: number; count: number }): number {
  const correlation = new Correlation()
  for (const line of lines) {
    const { from, to, count } = parts(line.length)
    if (count < 1 || from < 0) continue
    let [sumA, sumB, sumAA, sumBB, sumAB] = [0, 0, 0, 0, 0]
    for (let k = 0; k < count; k++) {
      const a = line[from + k]
      const b = line[to + k]
      sumA += a
      sumB += b
      sumAA += a * a
      sumBB += b * b
      sumAB += a * b
    }
    correlation.add(count, sumA, sumB, sumAA, sumBB, sumAB)
  }
  return correlation.value
}

/**
 * `likenessAt` of every lag below `most` at once. The products of all lines come out of one inverse transform of their
 * summed power spectra (Wiener-Khinchin), two lines being carried by one complex transform.
 *
 * @param most At most half the lines' length and one. @returns A value a lag; that of 0 is 0.
 */
export function likenessByLag(lines: Lines, most: number): Float64Array {
  const out = new Float64Array(most)
  const length = lines[0]?.length ?? 0
  if (length < 2 || most < 2) return out
  const centred = lines.map(centre)
  const products = productsByLag(centred, most)
  const correlations = Array.from(out, () => new Correlation())
  for (const line of centred) {
    let [sumA, sumB, sumAA, sumBB] = [0, 0, 0, 0]
    for (let k = 0; k < length; k++) {
      sumA += line[k]
      sumAA += line[k] ** 2
    }
    ;[sumB, sumBB] = [sumA, sumAA]
    // with each lag the first part loses its last value, the second its first
    for (let lag = 1; lag < most; lag++) {
      const [last, first] = [line[length - lag], line[lag - 1]]
      sumA -= last
      sumAA -= last ** 2
      sumB -= first
      sumBB -= first ** 2
      // the products of all lines are one sum: they are added with the first
      const ab = line === centred[0] ? products[lag] : 0
      correlations[lag].add(length - lag, sumA, sumB, sumAA, sumBB, ab)
    }
  }
  for (let lag = 1; lag < most; lag++) out[lag] = correlations[lag].value
  return out
}

/** A line about its mean, so that sums of its products lose nothing of their precision. */
function centre(line: Float32Array): Float64Array {
  let sum = 0
  for (let k = 0; k < line.length; k++) sum += line[k]
  const mean = sum / line.length
  const out = new Float64Array(line.length)
  for (let k = 0; k < line.length; k++) out[k] = line[k] - mean
  return out
}

/** The sum over all lines of each value times that a lag on. */
function productsByLag(lines: readonly Float64Array[], most: number): Float64Array {
  const length = lines[0].length
  // so long that no lag that is asked for meets the beginning again
  let size = 2
  while (size < length + most) size *= 2
  const transform = new FFT(size)
  const values = new Float64Array(2 * size)
  const found = new Float64Array(2 * size)
  const power = new Float64Array(2 * size)
  for (let n = 0; n < lines.length; n += 2) {
    const [a, b] = [lines[n], lines[n + 1]]
    for (let k = 0; k < length; k++) {
      values[2 * k] = a[k]
      values[2 * k + 1] = b ? b[k] : 0
    }
    transform.transform(found, values)
    for (let k = 0; k < size; k++) {
      const squared = found[2 * k] ** 2 + found[2 * k + 1] ** 2
      // what the two lines have of one another lies turned round at the place across, and goes
      power[2 * k] += squared / 2
      power[2 * ((size - k) % size)] += squared / 2
    }
  }
  transform.inverseTransform(found, power)
  return Float64Array.from({ length: most }, (_, lag) => found[2 * lag])
}
