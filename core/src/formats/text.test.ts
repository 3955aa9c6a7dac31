import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { sniffKind } from '../brush-file/kinds.ts'
import { hasBytesAt, joinBytes } from './bytes.ts'
import { crc32 } from './crc32.ts'
import { fromUtf8, fromUtf8OrLatin1, toOneLine, toUtf8 } from './text.ts'

describe('text in files', () => {
  it('comes back from UTF-8, and bytes that are none are refused or read as Latin-1', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        expect(fromUtf8(toUtf8(text), 'x', 0)).toBe(text)
      }),
    )
    expect(() => fromUtf8(Uint8Array.of(0x4b, 0xe4), 'GBR brush', 28)).toThrow('at byte 28 expected UTF-8 text')
    expect(fromUtf8OrLatin1(Uint8Array.of(0x4b, 0xe4))).toBe('Kä')
  })

  it('is put on one line, without control characters, cut by characters', () => {
    expect(toOneLine('  a\n\tb\u0000c  ', 10)).toBe('a b c')
    expect(toOneLine('🪶🪶🪶', 2)).toBe('🪶🪶')
  })
})

describe('bytes', () => {
  it('are joined in order and found in their place', () => {
    const all = joinBytes([Uint8Array.of(1), new Uint8Array(0), Uint8Array.of(2, 3)])
    expect([...all]).toEqual([1, 2, 3])
    expect(hasBytesAt(all, 1, [2, 3])).toBe(true)
    expect(hasBytesAt(all, 2, [3, 4])).toBe(false)
  })

  it('have the CRC-32 of the published check value ("123456789" gives cbf43926), in one go or in parts', () => {
    const bytes = toUtf8('123456789')
    expect(crc32(bytes)).toBe(0xcbf43926)
    expect(crc32(bytes.subarray(4), crc32(bytes.subarray(0, 4)))).toBe(0xcbf43926)
  })

  it('tell their kind by content, however few there are', () => {
    expect(sniffKind(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0))).toBe('jpeg')
    expect(sniffKind(toUtf8('RIFF....WEBPVP8 '))).toBe('webp')
    expect(sniffKind(Uint8Array.of(0x50, 0x4b, 5, 6))).toBe('zip')
    expect(sniffKind(toUtf8('%PDF-1.7'))).toBe('foreign')
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
        expect(typeof sniffKind(new Uint8Array(bytes))).toBe('string')
      }),
    )
  })
})
