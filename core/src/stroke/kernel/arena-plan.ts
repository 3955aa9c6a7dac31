const ALIGN_BYTES = 16

/** Hands out places in one block of memory. The first bytes stay free: compiled code may call them its own. */
export class ArenaPlan {
  bytes = 1024
  take(size: number): number {
    const offset = this.bytes
    this.bytes = Math.ceil((offset + size) / ALIGN_BYTES) * ALIGN_BYTES
    return offset
  }
}
