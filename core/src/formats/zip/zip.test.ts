import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { FormatError, LimitError } from '../../errors.ts'
import { joinBytes } from '../bytes.ts'
import { toUtf8 } from '../text.ts'
import { toByteSource } from './layout.ts'
import { listZip, readZipEntry } from './read.ts'
import { ZipWriter } from './write.ts'

function makeZip(files: [string, Uint8Array, 'store' | 'deflate'][]): Uint8Array {
  const zip = new ZipWriter()
  return joinBytes([...files.flatMap(([path, bytes, packing]) => zip.add(path, bytes, packing)), ...zip.finish()])
}
const list = (bytes: Uint8Array) => listZip(toByteSource(bytes))

describe('ZIP', () => {
  it('reads back what it wrote: stored and deflated, any content', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.uint8Array({ maxLength: 200 }), fc.constantFrom('store', 'deflate')), { maxLength: 6 }),
        async (files) => {
          const named = files.map(([bytes, packing], i): [string, Uint8Array, 'store' | 'deflate'] => [
            `Sätze/${i} ✓.bin`,
            new Uint8Array(bytes),
            packing as 'store',
          ])
          const source = toByteSource(makeZip(named))
          const entries = await listZip(source)
          expect(entries.map((entry) => entry.path)).toEqual(named.map(([path]) => path))
          for (const [i, entry] of entries.entries()) expect(await readZipEntry(source, entry)).toEqual(named[i][1])
        },
      ),
      { numRuns: 40 },
    )
  })

  it('is accepted by unzip and by python zipfile, the outside references', () => {
    const path = join(mkdtempSync(join(tmpdir(), 'zip-')), 'a.zip')
    writeFileSync(
      path,
      makeZip([
        ['Kelp & Wrack/x.txt', toUtf8('tide '.repeat(200)), 'deflate'],
        ['empty', new Uint8Array(0), 'store'],
        ['é.png', toUtf8('p'), 'store'],
      ]),
    )
    expect(execFileSync('unzip', ['-t', path], { encoding: 'utf8' })).toContain('No errors detected')
    const script = 'import sys, zipfile\nz = zipfile.ZipFile(sys.argv[1])\nprint(z.testzip(), z.namelist())'
    expect(execFileSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' }).trim()).toBe(
      "None ['Kelp & Wrack/x.txt', 'empty', 'é.png']",
    )
  })

  it('refuses every truncation', async () => {
    const bytes = makeZip([['a.txt', toUtf8('hello hello hello'), 'deflate']])
    for (let length = 0; length < bytes.length; length++)
      await expect(list(bytes.subarray(0, length)), `${length}`).rejects.toThrow(FormatError)
  })

  it.each([
    ['/etc/x', 'is absolute'],
    ['C:x', 'names a drive'],
    ['a/../b', 'leaves its folder'],
    ['a\\b', 'holds a backslash'],
    ['a\u0007b', 'holds a control character'],
  ])('refuses the name %j', async (path, why) => {
    await expect(list(zipSync({ [path]: toUtf8('x') }))).rejects.toThrow(why)
    expect(() => new ZipWriter().add(path, toUtf8('x'), 'store')).toThrow(why)
  })

  it('refuses doubled names ignoring case', async () => {
    await expect(list(zipSync({ a: toUtf8('x'), A: toUtf8('y') }))).rejects.toThrow('each name once, found "A" twice')
  })

  it('refuses a bomb by its ratio before unpacking it', async () => {
    const bomb = zipSync({ 'zeros.bin': new Uint8Array(11 * 1024 * 1024) })
    await expect(list(bomb)).rejects.toThrow(LimitError)
    await expect(list(bomb)).rejects.toThrow(/the ratio of "zeros.bin" is [\d,]+, at most 200 is taken/)
  })

  it('refuses an entry that unfolds to more than it says, and one with a wrong checksum', async () => {
    const bytes = makeZip([['a.txt', toUtf8('hello '.repeat(50)), 'deflate']])
    const source = toByteSource(bytes)
    const [entry] = await listZip(source)
    await expect(readZipEntry(source, { ...entry, sizeBytes: 10 })).rejects.toThrow(FormatError)
    await expect(readZipEntry(source, { ...entry, crc: 1 })).rejects.toThrow('the archive is damaged')
  })

  it('refuses too many entries', async () => {
    const files = Object.fromEntries(Array.from({ length: 20_001 }, (_, i) => [`f${i}`, new Uint8Array(0)]))
    await expect(list(zipSync(files, { level: 0 }))).rejects.toThrow(
      'the number of entries is 20,001, at most 20,000 is taken',
    )
  })
})
