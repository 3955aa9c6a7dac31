/** All parts one after another in new memory. */
export function joinBytes(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    out.set(part, at)
    at += part.length
  }
  return out
}

/** Whether `bytes` holds exactly `wanted` at `offset`. */
export function hasBytesAt(bytes: Uint8Array, offset: number, wanted: readonly number[]): boolean {
  return offset + wanted.length <= bytes.length && wanted.every((byte, i) => bytes[offset + i] === byte)
}
