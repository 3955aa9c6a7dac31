import { execFileSync } from 'node:child_process'
import { closeSync, mkdtempSync, openSync, readFileSync, readSync, rmSync, writeFileSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { FormatError, LimitError } from '../../errors.ts'
import { joinBytes } from '../bytes.ts'
import { toUtf8 } from '../text.ts'
import { type ByteSource, toByteSource } from './layout.ts'
import { listZip, openStoredEntry, readZipEntry } from './read.ts'
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
    ['a\u202eb', 'holds a control character'],
  ])('refuses the name %j', async (path, why) => {
    await expect(list(zipSync({ [path]: toUtf8('x') }))).rejects.toThrow(why)
    expect(() => new ZipWriter().add(path, toUtf8('x'), 'store')).toThrow(why)
  })

  it('refuses names that are one to some file systems: alike but for case or Unicode form', async () => {
    await expect(list(zipSync({ a: toUtf8('x'), A: toUtf8('y') }))).rejects.toThrow('each name once, found "A" and "a"')
    const forms = zipSync({ 'caf\u00e9': toUtf8('x'), 'cafe\u0301': toUtf8('y') })
    await expect(list(forms)).rejects.toThrow('each name once')
    const zip = new ZipWriter()
    zip.add('caf\u00e9', toUtf8('x'), 'store')
    expect(() => zip.add('cafe\u0301', toUtf8('y'), 'store')).toThrow('each name once')
  })

  it('refuses a name that is too long to be unpacked, of one part or of all', async () => {
    await expect(list(zipSync({ ['n'.repeat(256)]: toUtf8('x') }))).rejects.toThrow('too long to be unpacked')
    await expect(list(zipSync({ [`${'d/'.repeat(1800)}x`]: toUtf8('x') }))).rejects.toThrow('too long to be unpacked')
    expect((await list(zipSync({ ['n'.repeat(255)]: toUtf8('x') }))).length).toBe(1)
  })

  it('refuses a link, as zip itself stores one', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'zip-'))
    execFileSync('sh', ['-c', 'ln -s /etc/passwd link && echo x > file && zip -qy l.zip link file'], { cwd: folder })
    await expect(list(new Uint8Array(readFileSync(join(folder, 'l.zip'))))).rejects.toThrow('"link" is a link')
  })

  it('refuses bytes before the first entry, between the directory and its end, and behind the end', async () => {
    const bytes = makeZip([['a.txt', toUtf8('hello'), 'store']])
    await expect(list(joinBytes([bytes, Uint8Array.of(0)]))).rejects.toThrow('bytes behind its end')
    await expect(list(joinBytes([Uint8Array.of(7), bytes]))).rejects.toThrow(FormatError)
    const moved = joinBytes([bytes.subarray(0, -22), Uint8Array.of(1, 2, 3), bytes.subarray(-22)])
    await expect(list(moved)).rejects.toThrow('a directory that ends where its last record begins')
  })

  it('refuses entries that share their bytes', async () => {
    const bytes = makeZip([
      ['a.txt', toUtf8('hello'), 'store'],
      ['b.txt', toUtf8('world'), 'store'],
    ])
    const second = bytes.lastIndexOf(0x50, bytes.length - 30) // the second directory entry
    new DataView(bytes.buffer).setUint32(second + 42, 0, true)
    await expect(list(bytes)).rejects.toThrow('each entry in a place of its own')
  })

  it('refuses an entry whose own header tells another name or size than the directory', async () => {
    const bytes = makeZip([['a.txt', toUtf8('hello'), 'store']])
    const read = async (at: number, value: number) => {
      const changed = bytes.slice()
      changed[at] = value
      const source = toByteSource(changed)
      return readZipEntry(source, (await listZip(source))[0])
    }
    await expect(read(30, 0x7a)).rejects.toThrow('the name "a.txt", as the directory has it')
    await expect(read(22, 9)).rejects.toThrow('the size and checksum of "a.txt"')
  })

  it('is written and read past 4 GiB, and python zipfile lists and reads the same', async () => {
    const path = join(mkdtempSync(join(tmpdir(), 'zip64-')), 'large.zip')
    const sizeBytes = 4.5 * 1024 ** 3
    // Zeros of a hole in the file; their checksum by the polynomial would take seconds and is nobody's business here.
    const zip = new ZipWriter()
    const head = zip.addStored('hole.bin', { crc: 0, sizeBytes })
    const [tail, ...rest] = [...zip.add('after.txt', toUtf8('behind it all'), 'store'), ...zip.finish()]
    const file = openSync(path, 'w+')
    writeSync(file, head, 0, head.length, 0)
    let at = head.length + sizeBytes
    for (const part of [tail, ...rest]) at += writeSync(file, part, 0, part.length, at)
    const source: ByteSource = {
      size: at,
      read: async (offset, length) => {
        const bytes = new Uint8Array(length)
        readSync(file, bytes, 0, length, offset)
        return bytes
      },
    }
    const entries = await listZip(source, { unpackedMaxBytes: Number.POSITIVE_INFINITY })
    expect(entries.map(({ path, sizeBytes }) => [path, sizeBytes])).toEqual([
      ['hole.bin', sizeBytes],
      ['after.txt', 13],
    ])
    expect(new TextDecoder().decode(await readZipEntry(source, entries[1]))).toBe('behind it all')
    await expect(readZipEntry(source, entries[0])).rejects.toThrow(LimitError)
    await expect(listZip(source)).rejects.toThrow('the unpacked size in bytes is 4,831,838,208')
    const inner = await openStoredEntry(source, entries[0])
    expect([inner?.size, (await inner?.read(sizeBytes - 2, 99))?.length]).toEqual([sizeBytes, 2])
    const script =
      'import sys, zipfile\nz = zipfile.ZipFile(sys.argv[1])\nprint([(i.filename, i.file_size) for i in z.infolist()], z.read("after.txt"))'
    expect(execFileSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' }).trim()).toBe(
      `[('hole.bin', ${sizeBytes}), ('after.txt', 13)] b'behind it all'`,
    )
    closeSync(file)
    rmSync(path)
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
    const stored = makeZip([['a.txt', toUtf8('hello'), 'store']])
    stored[36] ^= 1
    const damaged = toByteSource(stored)
    await expect(readZipEntry(damaged, (await listZip(damaged))[0])).rejects.toThrow('the archive is damaged')
  })

  it.each<[string, (zip: Uint8Array, at: { central: number; end: number }) => void, string]>([
    [
      'another signature in the directory',
      (zip, { central }) => zip.set([1], central),
      'at byte 77 expected a directory entry',
    ],
    [
      'an encrypted entry',
      (zip, { central }) => zip.set([1], central + 8),
      'at byte 77 expected "a.txt" without a password',
    ],
    [
      'a name longer than the directory',
      (zip, { central }) => zip.set([0xff, 0x7f], central + 28),
      'at byte 77 expected a directory entry that ends inside the directory',
    ],
    [
      'a comment longer than the directory',
      (zip, { central }) => zip.set([0xff, 0x7f], central + 32),
      'at byte 77 expected a directory entry that ends inside the directory',
    ],
    [
      'more entries than the directory has',
      (zip, { end }) => zip.set([3, 0], end + 10),
      'at byte 179 expected a directory entry',
    ],
    [
      'a directory beyond the file',
      (zip, { end }) => zip.set([0xff, 0xff, 0xff, 0x7f], end + 16),
      'at byte 179 expected a directory that ends where its last record begins',
    ],
    [
      'a ZIP64 record that is not there',
      (zip, { end }) => zip.set([0xff, 0xff], end + 10),
      'at byte 159 expected the ZIP64 locator',
    ],
    [
      'a directory whose size only ZIP64 could tell',
      (zip, { end }) => zip.set([0xff, 0xff, 0xff, 0xff], end + 12),
      'at byte 159 expected the ZIP64 locator',
    ],
    [
      'a size that only ZIP64 could tell',
      (zip, { central }) => zip.set([0xff, 0xff, 0xff, 0xff], central + 24),
      'at byte 128 expected the ZIP64 part of an entry',
    ],
  ])('refuses %s', async (_what, spoil, sentence) => {
    // biome-ignore format: one way to spoil it a line
    const zip = makeZip([['a.txt', toUtf8('tide'), 'store'], ['b.txt', toUtf8('ebb'), 'store']])
    const end = zip.length - 22
    const central = new DataView(zip.buffer, zip.byteOffset).getUint32(end + 16, true)
    await expect(list(zip)).resolves.toHaveLength(2)
    spoil(zip, { central, end })
    await expect(list(zip)).rejects.toThrow(FormatError)
    await expect(list(zip)).rejects.toThrow(sentence)
  })

  it('reads past a comment at the end and in the directory, and fields that others add', async () => {
    const plain = zipSync({
      'a.txt': [toUtf8('tide'), { comment: 'low water', extra: { 4242: Uint8Array.of(1, 2, 3) } }],
    })
    const comment = toUtf8('a pack of reeds')
    const zip = joinBytes([plain, comment])
    new DataView(zip.buffer, zip.byteOffset).setUint16(plain.length - 2, comment.length, true)
    const source = toByteSource(zip)
    const [entry] = await listZip(source)
    expect([entry?.path, entry && (await readZipEntry(source, entry))]).toEqual(['a.txt', toUtf8('tide')])
  })

  it('refuses too many entries', async () => {
    const files = Object.fromEntries(Array.from({ length: 20_001 }, (_, i) => [`f${i}`, new Uint8Array(0)]))
    await expect(list(zipSync(files, { level: 0 }))).rejects.toThrow(
      'the number of entries is 20,001, at most 20,000 is taken',
    )
  })
})
