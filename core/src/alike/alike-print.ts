import type { PaintReading } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { KEY_LENGTH, keyOf } from './key.ts'
import { layMark, type Mark } from './mark.ts'
import { decodeMark, encodeMark, KEPT_SIDE } from './mark-bytes.ts'

/**
 * What is kept of a tip to find those that look like it: its key as signed bytes, 127ths, and its mark. Both are empty
 * for a tip that paints nothing.
 */
export type AlikePrint = { key: Uint8Array; mark: Uint8Array }

const KEY_SCALE = 127

export function printAlike(pixels: Pixels, reading: PaintReading): AlikePrint {
  const mark = layMark(pixels, reading, KEPT_SIDE)
  if (!mark) return { key: new Uint8Array(), mark: new Uint8Array() }
  return { key: encodeKey(mark), mark: encodeMark(mark) }
}

function encodeKey(mark: Mark): Uint8Array {
  const key = keyOf(mark).map((value) => KEY_SCALE * Math.min(1, Math.max(-1, value)))
  return new Uint8Array(Int8Array.from(key, Math.round).buffer)
}

/** The key of a kept mark that came from elsewhere; empty where that is none. @param bytes As `encodeMark` writes it. */
export function keyOfKept(bytes: Uint8Array): Uint8Array {
  try {
    return encodeKey(decodeMark(bytes))
  } catch (error) {
    if (error instanceof RangeError) return new Uint8Array()
    throw error
  }
}

/** Kept keys one after another, as they are searched. @throws {RangeError} If one is not a whole key. */
export function joinKeys(kept: readonly Uint8Array[]): Uint8Array {
  const joined = new Uint8Array(kept.length * KEY_LENGTH)
  for (const [k, bytes] of kept.entries()) {
    if (bytes.length !== KEY_LENGTH) throw new RangeError(`a key of ${bytes.length} bytes: expected ${KEY_LENGTH}`)
    joined.set(bytes, k * KEY_LENGTH)
  }
  return joined
}

/** Joined keys as numbers. */
export const decodeKeys = (joined: Uint8Array): Float32Array =>
  Float32Array.from(joined, (byte) => ((byte << 24) >> 24) / KEY_SCALE)
