const POLYNOMIAL = 0xedb88320 // reversed, as in ZIP and PNG
const TOP = 0x80000000

/** The product of two polynomials over GF(2), modulo the one of CRC-32; both reversed, the highest bit is the constant. */
function multiply(a: number, b: number): number {
  let product = 0
  let shifted = b
  for (let bit = TOP; bit !== 0; bit >>>= 1) {
    if (a & bit) product ^= shifted
    shifted = shifted & 1 ? (shifted >>> 1) ^ POLYNOMIAL : shifted >>> 1
  }
  return product >>> 0
}

/** x to the 8 · 2^k, for as many k as a file has bits of length. */
const POWERS: number[] = [0x00800000]
for (let k = 1; k < 53; k++) POWERS.push(multiply(POWERS[k - 1] ?? 0, POWERS[k - 1] ?? 0))

/**
 * The CRC-32 of two pieces one behind the other, from that of each: appending n bytes multiplies the first by x^(8n), since
 * a CRC is linear (common practice, with no source).
 * @param secondBytes How long the second piece is.
 */
export function combineCrc(first: number, second: number, secondBytes: number): number {
  let power = TOP
  for (let k = 0, left = secondBytes; left > 0; k++, left = Math.floor(left / 2))
    if (left % 2 === 1) power = multiply(power, POWERS[k] ?? 0)
  return (multiply(power, first) ^ second) >>> 0
}
