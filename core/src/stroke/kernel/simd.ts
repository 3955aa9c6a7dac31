import type { CompositeRow, Kernel, StampJob } from './kernel.ts'
import { STAMP_WASM } from './stamp-wasm.generated.ts'

/** The few parts of the WebAssembly interface used here; it is the same in browsers and Node. */
export type WasmMemory = { buffer: ArrayBuffer }
declare const WebAssembly: {
  Module: new (bytes: Uint8Array) => object
  Instance: new (module: object, imports: object) => { exports: object }
  Memory: new (options: { initial: number }) => WasmMemory
}

export const PAGE_BYTES = 65_536

let compiled: object | undefined

export function createWasmMemory(bytes: number): WasmMemory {
  return new WebAssembly.Memory({ initial: Math.ceil(bytes / PAGE_BYTES) })
}

/** The loops in WebAssembly SIMD over the given memory; compiled once, then only instantiated. */
export function createSimdKernel(memory: WasmMemory): Kernel {
  compiled ??= new WebAssembly.Module(STAMP_WASM)
  const exports = new WebAssembly.Instance(compiled, { env: { memory } }).exports as {
    stamp: (...args: number[]) => void
    coverRow: (...args: number[]) => void
    overRow: (...args: number[]) => void
  }
  return {
    stamp: (job) => exports.stamp(...stampArguments(job)),
    compositeRow: ({ canvas, layer, covers, count, colour }: CompositeRow) =>
      colour
        ? exports.coverRow(canvas, layer, covers, count, colour.r, colour.g, colour.b)
        : exports.overRow(canvas, layer, covers, count),
  }
}

/** In the order of the compiled function's parameters. */
function stampArguments(job: StampJob): number[] {
  const grain = job.grain ?? { level: 0, stride: 0, periodU: 0, periodV: 0, du: 0, dv: 0 }
  return [
    ...[job.layer, job.layerWidth, job.level, job.levelStride, job.rows, job.rowCount, job.du, job.dv, job.alphaQ15],
    ...[job.lay, job.scratch, job.weights, grain.level, grain.stride, grain.periodU, grain.periodV, grain.du, grain.dv],
    ...[job.grainStarts, ...job.tint, job.matrix, job.patch, job.patchWidth, job.patchLeft, job.patchTop],
  ]
}
