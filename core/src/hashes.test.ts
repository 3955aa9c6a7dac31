import { createHash } from 'node:crypto'
import { expect, it } from 'vitest'
import { hashBytes, hashPixels } from './hashes.ts'
import { roundTip } from './testing.ts'

it('computes SHA-256 as FIPS 180-4 says ("abc") and as the platform does', () => {
  expect(hashBytes(Uint8Array.of(97, 98, 99))).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad')
  const { data } = roundTip(33)
  expect(hashBytes(data)).toBe(createHash('sha256').update(data).digest('hex'))
})

it('tells pictures of the same bytes but another shape apart', () => {
  const data = new Uint8Array(12)
  expect(hashPixels({ width: 3, height: 4, channels: 1, data })).not.toBe(
    hashPixels({ width: 4, height: 3, channels: 1, data }),
  )
})
