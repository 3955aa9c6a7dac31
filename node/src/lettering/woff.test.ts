import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { create } from 'fontkit'
import { expect, it } from 'vitest'
import { unpackWoff } from './woff.ts'

const woff = readFileSync(
  createRequire(import.meta.url).resolve('@fontsource/hanken-grotesk/files/hanken-grotesk-latin-400-normal.woff'),
)

it('unpacks a font to the very tables that were packed, with the checksums that they have', () => {
  const font = unpackWoff(woff)
  const count = font.readUInt16BE(4)
  expect(count).toBe(woff.readUInt16BE(12))
  let tables = 0
  for (let at = 12; at < 12 + count * 16; at += 16) {
    const [checksum, offset, sizeBytes] = [4, 8, 12].map((of) => font.readUInt32BE(at + of)) as [number, number, number]
    // OpenType, "calculating checksums"; the one of head leaves out its own adjustment
    const isHead = font.toString('latin1', at, at + 4) === 'head'
    let sum = 0
    for (let i = 0; i < sizeBytes; i += 4) {
      const word = font.readUInt32BE(offset + i)
      sum = (sum + (isHead && i === 8 ? 0 : word)) >>> 0
    }
    if (sum === checksum) tables++
  }
  expect(tables).toBe(count)
})

it('gives the letters that the packed one has', () => {
  const one = create(woff)
  const other = create(unpackWoff(woff))
  if (!('layout' in one && 'layout' in other)) throw new Error('several fonts')
  const path = (font: typeof one) => font.layout('Saltmarsh &').glyphs.map((glyph) => glyph.path.toSVG())
  expect(path(other)).toEqual(path(one))
})

it('refuses what is none', () => {
  expect(() => unpackWoff(Buffer.from('OTTO'))).toThrow('signature')
})
