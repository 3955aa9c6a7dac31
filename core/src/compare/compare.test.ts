import { createHash } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { hashBytes, hashPixels } from '../hashes.ts'
import type { Pixels } from '../raster/pixels.ts'
import { shrinkPixels } from '../raster/resample.ts'
import { roundTip } from '../testing.ts'
import { hashNear } from './near-hash.ts'
import { countDifferingBits, NearIndex } from './near-index.ts'

function blob(seed: number, side = 96): Pixels {
  const data = new Uint8Array(side * side)
  for (let i = 0; i < data.length; i++) {
    const [x, y] = [(i % side) / side - 0.5, Math.floor(i / side) / side - 0.5]
    const angle = Math.atan2(y, x)
    const rim = 0.3 + 0.12 * Math.sin(angle * (2 + (seed % 5)) + seed) + 0.05 * Math.sin(angle * 7 + seed * 3)
    data[i] = Math.hypot(x, y) < rim ? 255 - Math.round(120 * Math.abs(Math.sin(seed + x * 9))) : 0
  }
  return { width: side, height: side, channels: 1, data }
}

function hash(pixels: Pixels) {
  const found = hashNear(pixels, 'light')
  if (!found) throw new Error('blank')
  return found
}

describe('duplicates', () => {
  it('computes SHA-256 as FIPS 180-4 says ("abc") and as the platform does', () => {
    expect(hashBytes(Uint8Array.of(97, 98, 99))).toBe(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    )
    const { data } = roundTip(33)
    expect(hashBytes(data)).toBe(createHash('sha256').update(data).digest('hex'))
  })

  it('tells pictures of the same bytes but another shape apart', () => {
    const data = new Uint8Array(12)
    expect(hashPixels({ width: 3, height: 4, channels: 1, data })).not.toBe(
      hashPixels({ width: 4, height: 3, channels: 1, data }),
    )
  })

  it('finds a scaled, fainter copy with a margin, and not another shape', () => {
    const index = new NearIndex<number>()
    for (let seed = 0; seed < 200; seed++) index.add(seed, hash(blob(seed)))
    for (const seed of [3, 42, 117]) {
      const small = shrinkPixels(blob(seed), 80, 80)
      const padded: Pixels = { width: 100, height: 100, channels: 1, data: new Uint8Array(10_000) }
      for (let y = 0; y < 80; y++)
        for (let x = 0; x < 80; x++) padded.data[(y + 15) * 100 + x + 4] = Math.round(small.data[y * 80 + x] * 0.9)
      expect(index.find(hash(padded))?.id).toBe(seed)
    }
    expect(index.find(hash(roundTip(64)))).toBeUndefined()
  })

  it('finds by buckets exactly what comparing all pairs finds', () => {
    const hashes = Array.from({ length: 120 }, (_, seed) => hash(blob(seed % 60, 64 + (seed % 7))))
    const index = new NearIndex<number>()
    for (const [i, each] of hashes.entries()) index.add(i, each)
    for (const each of hashes) {
      const found = index.find(each)
      expect(found && countDifferingBits(each.bits, hashes[found.id].bits)).toBeLessThanOrEqual(6)
    }
  })

  it('has no hash for a blank picture', () => {
    expect(hashNear({ width: 9, height: 9, channels: 1, data: new Uint8Array(81) }, 'light')).toBeUndefined()
  })
})
