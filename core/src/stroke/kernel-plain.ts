import { type Kernel, Q15_ONE, ROW_INTS, type StampJob } from './kernel.ts'

/** The readable reference of both loops; the SIMD twin gives the same bytes. */
export function createPlainKernel(memory: ArrayBufferLike): Kernel {
  const bytes = new Uint8Array(memory)
  const shorts = new Int16Array(memory)
  const ints = new Int32Array(memory)
  return {
    stampMask: (job) => stampMask(bytes, shorts, ints, job),
    stampColour: (job) => stampColour(bytes, shorts, ints, job),
  }
}

/** Product of two Q15 numbers, rounded: what one SIMD instruction does. */
const mulQ15 = (a: number, b: number) => (a * b + 0x4000) >> 15

/** Bilinear sample of four neighbours, 8-bit, at fractions of 1/256 across and Q15 down; gives 0…32767. */
function mix(p00: number, p01: number, p10: number, p11: number, fx: number, fyQ15: number): number {
  const top = ((p00 << 8) + (p01 - p00) * fx) >> 1
  const bottom = ((p10 << 8) + (p11 - p10) * fx) >> 1
  const value = top + mulQ15(bottom - top, fyQ15)
  return value + (value >> 8) // 255 · 256 / 2 is 32640; this brings full paint to 32767
}

function stampMask(bytes: Uint8Array, shorts: Int16Array, ints: Int32Array, job: StampJob): void {
  const { layer, layerWidth, level, levelStride, rows, rowCount, du, dv, alphaQ15 } = job
  for (let r = 0, row = rows >> 2; r < rowCount; r++, row += ROW_INTS) {
    let o = (layer >> 1) + ints[row] * layerWidth + ints[row + 1]
    const end = o + ints[row + 2] - ints[row + 1]
    let u = ints[row + 3]
    let v = ints[row + 4]
    for (; o < end; o++, u += du, v += dv) {
      const i = level + (v >> 16) * levelStride + (u >> 16)
      const j = i + levelStride
      const value = mix(bytes[i], bytes[i + 1], bytes[j], bytes[j + 1], (u >> 8) & 255, (v >> 1) & 0x7fff)
      const below = shorts[o]
      shorts[o] = below + mulQ15(mulQ15(value, alphaQ15), Q15_ONE - below)
    }
  }
}

function stampColour(bytes: Uint8Array, shorts: Int16Array, ints: Int32Array, job: StampJob): void {
  const { layer, layerWidth, level, levelStride, rows, rowCount, du, dv, alphaQ15 } = job
  for (let r = 0, row = rows >> 2; r < rowCount; r++, row += ROW_INTS) {
    let o = (layer >> 1) + (ints[row] * layerWidth + ints[row + 1]) * 4
    const end = o + (ints[row + 2] - ints[row + 1]) * 4
    let u = ints[row + 3]
    let v = ints[row + 4]
    for (; o < end; o += 4, u += du, v += dv) {
      const i = level + ((v >> 16) * levelStride + (u >> 16)) * 4
      const j = i + levelStride * 4
      const fx = (u >> 8) & 255
      const fy = (v >> 1) & 0x7fff
      const alpha = mulQ15(mix(bytes[i + 3], bytes[i + 7], bytes[j + 3], bytes[j + 7], fx, fy), alphaQ15)
      for (let c = 0; c < 4; c++) {
        const paint = mulQ15(mix(bytes[i + c], bytes[i + c + 4], bytes[j + c], bytes[j + c + 4], fx, fy), alphaQ15)
        const below = shorts[o + c]
        shorts[o + c] = Math.min(Q15_ONE, below - mulQ15(below, alpha) + paint)
      }
    }
  }
}
