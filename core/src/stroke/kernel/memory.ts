import type { Kernel } from './kernel.ts'
import { createPlainKernel } from './plain.ts'
import { createSimdKernel, createWasmMemory } from './simd.ts'

/** A block of memory with the loops that work on it. */
export type KernelMemory = { buffer: ArrayBuffer; kernel: Kernel }

/** Blocks kept for the next strokes: making one costs more than a small stroke. */
const KEPT = 3
const free: KernelMemory[] = []

/** A block of at least so many bytes. What it holds is left over from other strokes. */
export function takeKernelMemory(bytes: number, kind: 'simd' | 'plain'): KernelMemory {
  if (kind === 'plain') {
    const buffer = new ArrayBuffer(bytes)
    return { buffer, kernel: createPlainKernel(buffer) }
  }
  const at = free.findIndex((block) => block.buffer.byteLength >= bytes)
  const [found] = at < 0 ? [] : free.splice(at, 1)
  if (found) return found
  const memory = createWasmMemory(bytes)
  return { buffer: memory.buffer, kernel: createSimdKernel(memory) }
}

/** Gives a block back; whoever gives it must not touch it again. The largest ones are kept. */
export function giveKernelMemory(block: KernelMemory): void {
  free.push(block)
  free.sort((a, b) => b.buffer.byteLength - a.buffer.byteLength)
  free.length = Math.min(free.length, KEPT)
}
