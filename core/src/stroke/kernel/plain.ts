import { coverRow, overRow } from './composite.ts'
import { type CompositeRow, type GrainRow, type Kernel, LAY, Q15_ONE, ROW_INTS, type StampJob } from './kernel.ts'

/** The readable reference of the loops; the SIMD twin gives the same bytes. */
export function createPlainKernel(memory: ArrayBufferLike): Kernel {
  const bytes = new Uint8Array(memory)
  const shorts = new Int16Array(memory)
  const ints = new Int32Array(memory)
  return {
    stamp: (job) => stamp({ bytes, shorts, ints }, job),
    compositeRow: (row) => compositeRow(bytes, shorts, row),
  }
}

/** Writes the weights of `count` pixels along a row of a grain to `to`, Q15; both are byte offsets into the memory. */
export type WriteGrainRow = (to: number, count: number, grain: GrainRow) => void

export function createGrainRow(memory: ArrayBufferLike): WriteGrainRow {
  const bytes = new Uint8Array(memory)
  const shorts = new Int16Array(memory)
  return (to, count, grain) => grainRow(bytes, shorts, to, count, grain)
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

type Memory = { bytes: Uint8Array; shorts: Int16Array; ints: Int32Array }

function stamp(memory: Memory, job: StampJob): void {
  const { ints, shorts } = memory
  const channels = job.lay === LAY.colour ? 4 : 1
  for (let r = 0, row = job.rows >> 2; r < job.rowCount; r++, row += ROW_INTS) {
    const count = ints[row + 2] - ints[row + 1]
    sampleRow(memory, job, row, channels)
    if (job.grain) {
      const starts = (job.grainStarts >> 2) + r * 2
      grainRow(memory.bytes, shorts, job.weights, count, { ...job.grain, u: ints[starts], v: ints[starts + 1] })
      weighRow(shorts, job, count, channels)
    }
    if (job.matrix !== 0) changeColours(shorts, job, count)
    layRow(shorts, job, { y: ints[row], x: ints[row + 1], count })
  }
}

/** Samples the tip along one row into the scratch row. */
function sampleRow({ bytes, shorts, ints }: Memory, job: StampJob, row: number, channels: number): void {
  const { level, levelStride, du, dv, alphaQ15 } = job
  const end = (job.scratch >> 1) + (ints[row + 2] - ints[row + 1]) * channels
  let u = ints[row + 3]
  let v = ints[row + 4]
  for (let o = job.scratch >> 1; o < end; o += channels, u += du, v += dv) {
    const i = level + ((v >> 16) * levelStride + (u >> 16)) * channels
    const j = i + levelStride * channels
    const fx = (u >> 8) & 255
    const fy = (v >> 1) & 0x7fff
    for (let c = 0; c < channels; c++) {
      const value = mix(bytes[i + c], bytes[i + c + channels], bytes[j + c], bytes[j + c + channels], fx, fy)
      shorts[o + c] = mulQ15(value, alphaQ15)
    }
  }
}

/** A grain repeats: what leaves the tile on one side comes in on the other. */
function grainRow(bytes: Uint8Array, shorts: Int16Array, to: number, count: number, grain: GrainRow): void {
  const { level, stride, periodU, periodV, du, dv } = grain
  let { u, v } = grain
  for (let o = to >> 1, end = o + count; o < end; o++) {
    const i = level + (v >> 16) * stride + (u >> 16)
    const j = i + stride
    shorts[o] = mix(bytes[i], bytes[i + 1], bytes[j], bytes[j + 1], (u >> 8) & 255, (v >> 1) & 0x7fff)
    u += du
    if (u >= periodU) u -= periodU
    else if (u < 0) u += periodU
    v += dv
    if (v >= periodV) v -= periodV
    else if (v < 0) v += periodV
  }
}

function weighRow(shorts: Int16Array, { scratch, weights }: StampJob, count: number, channels: number): void {
  for (let k = 0, o = scratch >> 1, w = weights >> 1; k < count; k++, w++) {
    for (let c = 0; c < channels; c++, o++) shorts[o] = mulQ15(shorts[o], shorts[w])
  }
}

/** Each channel becomes a mix of all, held between none and the pixel's alpha. */
function changeColours(shorts: Int16Array, { scratch, matrix }: StampJob, count: number): void {
  const m = shorts.subarray(matrix >> 1, (matrix >> 1) + 12)
  for (let k = 0, o = scratch >> 1; k < count; k++, o += 4) {
    const [r, g, b, a] = [shorts[o], shorts[o + 1], shorts[o + 2], shorts[o + 3]]
    for (let c = 0; c < 3; c++) {
      const first = m[c * 4] * r + m[c * 4 + 1] * g
      const second = m[c * 4 + 2] * b + m[c * 4 + 3] * a
      shorts[o + c] = Math.max(0, Math.min(a, ((first >> 1) + (second >> 1)) >> 11))
    }
  }
}

function layRow(shorts: Int16Array, job: StampJob, { y, x, count }: { y: number; x: number; count: number }): void {
  const pixel = y * job.layerWidth + x
  const from = job.scratch >> 1
  switch (job.lay) {
    case LAY.mask:
      for (let k = 0, o = (job.layer >> 1) + pixel; k < count; k++, o++) {
        shorts[o] += mulQ15(shorts[from + k], Q15_ONE - shorts[o])
      }
      return
    case LAY.tint:
      for (let k = 0, o = (job.layer >> 1) + pixel * 4; k < count; k++, o += 4) {
        const alpha = shorts[from + k]
        for (let c = 0; c < 4; c++) {
          const paint = c < 3 ? mulQ15(job.tint[c], alpha) : alpha
          shorts[o + c] = Math.min(Q15_ONE, shorts[o + c] - mulQ15(shorts[o + c], alpha) + paint)
        }
      }
      return
    case LAY.colour:
      for (let k = 0, o = (job.layer >> 1) + pixel * 4; k < count; k++, o += 4) {
        const alpha = shorts[from + k * 4 + 3]
        for (let c = 0; c < 4; c++) {
          const below = shorts[o + c]
          shorts[o + c] = Math.min(Q15_ONE, below - mulQ15(below, alpha) + shorts[from + k * 4 + c])
        }
      }
      return
    case LAY.smear: {
      let i = (job.patch >> 1) + ((y - job.patchTop) * job.patchWidth + x - job.patchLeft) * 4
      for (let k = 0, o = (job.layer >> 1) + pixel * 4; k < count; k++, o += 4, i += 4) {
        const share = shorts[from + k]
        for (let c = 0; c < 4; c++) shorts[o + c] += mulQ15(shorts[i + c] - shorts[o + c], share)
      }
    }
  }
}

function compositeRow(
  bytes: Uint8Array,
  shorts: Int16Array,
  { canvas, layer, covers, count, colour }: CompositeRow,
): void {
  const row = { data: bytes, at: canvas, from: 0, cover: shorts.subarray(covers >> 1, (covers >> 1) + count) }
  if (colour) coverRow({ ...row, from: layer >> 1 }, { data: shorts, colour })
  else overRow({ ...row, from: layer >> 3 }, { data: shorts })
}
