import { ArenaPlan } from '../kernel/arena-plan.ts'
import { type Kernel, ROW_INTS } from '../kernel/kernel.ts'
import { giveKernelMemory, type KernelMemory, takeKernelMemory } from '../kernel/memory.ts'
import { levelBytesMax, type PreparedFrame } from '../levels.ts'
import { LevelArena } from './level-arena.ts'

/** Room for levels, if not more than one is needed: strokes that vary read many. */
const LEVELS_BYTES = 16 << 20
/** Shorts of a pixel that has colours of its own, and of the picture under a smear. */
export const CHANNELS = 4

type Wish = {
  /** The canvas, px. */
  width: number
  height: number
  /** What a pixel of the layer holds: paint alone, or colours. */
  channels: 1 | typeof CHANNELS
  /** Whether what lies under a stamp is copied before it is laid. */
  smears: boolean
  frames: readonly PreparedFrame[]
  /** A grain's level that lies in the memory for as long as the stroke. */
  grain: Uint8Array | undefined
  kernel: 'simd' | 'plain'
}

/** The block of memory that one stroke's stamps are laid in: where each of its parts lies, and the parts as arrays. */
export class StampMemory {
  readonly kernel: Kernel
  /** Where parts lie, bytes from the start of the block. */
  readonly at: ReturnType<typeof planParts>['at']
  /** `ROW_INTS` numbers a row of the stamp that is being laid. */
  readonly rows: Int32Array
  readonly grainStarts: Int32Array
  readonly matrix: Int16Array
  /** What is laid so far, Q15, clear at first. */
  readonly layer: Int16Array
  readonly patch: Int16Array
  readonly covers: Int16Array
  readonly canvasRow: Uint8Array
  readonly levels: LevelArena
  readonly #block: KernelMemory
  readonly #isShared: boolean

  constructor(wish: Wish) {
    const { width, height, grain, kernel } = wish
    const { at, bytes, layerShorts, patchShorts, levelsBytes } = planParts(wish)
    this.at = at
    this.#block = takeKernelMemory(bytes, kernel)
    this.#isShared = kernel !== 'plain'
    this.kernel = this.#block.kernel
    const { buffer } = this.#block
    this.levels = new LevelArena(new Uint8Array(buffer, at.levels, levelsBytes))
    if (grain) new Uint8Array(buffer).set(grain, at.grain)
    this.rows = new Int32Array(buffer, at.rows, height * ROW_INTS)
    this.grainStarts = new Int32Array(buffer, at.grainStarts, height * 2)
    this.matrix = new Int16Array(buffer, at.matrix, 12)
    this.layer = new Int16Array(buffer, at.layer, layerShorts).fill(0)
    this.patch = new Int16Array(buffer, at.patch, patchShorts)
    this.covers = new Int16Array(buffer, at.covers, width)
    this.canvasRow = new Uint8Array(buffer, at.canvasRow, width * 4)
  }

  /** Gives the block back; nothing of it may be used after that. */
  close(): void {
    if (this.#isShared) giveKernelMemory(this.#block)
  }
}

function planParts({ width, height, channels, smears, frames, grain }: Wish) {
  const plan = new ArenaPlan()
  const layerShorts = width * height * channels
  const patchShorts = smears ? width * height * CHANNELS : 0
  const most = frames.map(levelBytesMax)
  const levelsBytes = Math.max(...most, Math.min(LEVELS_BYTES, 2 * sum(most)))
  const at = {
    rows: plan.take(height * ROW_INTS * 4),
    grainStarts: plan.take(height * 2 * 4),
    matrix: plan.take(24),
    scratch: plan.take(width * CHANNELS * 2),
    weights: plan.take(width * 2),
    covers: plan.take((width + 1) * 2),
    canvasRow: plan.take((width + 1) * 4),
    layer: plan.take(layerShorts * 2),
    patch: plan.take(patchShorts * 2),
    levels: plan.take(levelsBytes),
    grain: plan.take(grain?.length ?? 0),
  }
  return { at, bytes: plan.bytes, layerShorts, patchShorts, levelsBytes }
}

const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0)
