import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { joinBytes } from '../bytes.ts'
import { toUtf8 } from '../text.ts'
import { toByteSource } from './layout.ts'
import { type Patchwork, planZipPart } from './part.ts'
import { listZip, readZipEntry } from './read.ts'
import { ZipWriter } from './write.ts'

type File = [path: string, bytes: Uint8Array, packing: 'store' | 'deflate']

function makeZip(files: readonly File[]) {
  const zip = new ZipWriter()
  const parts = files.flatMap(([path, bytes, packing]) => zip.add(path, bytes, packing))
  return { laid: zip.laid, bytes: joinBytes([...parts, ...zip.finish()]) }
}
const sew = ({ stretches }: Patchwork, from: Uint8Array) =>
  joinBytes(stretches.map((each) => ('bytes' in each ? each.bytes : from.subarray(each.at, each.at + each.length))))

const someFiles = fc.array(
  fc.tuple(fc.uint8Array({ maxLength: 300 }), fc.constantFrom<'store' | 'deflate'>('store', 'deflate'), fc.boolean()),
  { maxLength: 8 },
)

it('a part of an archive holds the chosen files as they were, and is as long as it says', async () => {
  await fc.assert(
    fc.asyncProperty(someFiles, async (files) => {
      const named = files.map(([bytes, packing], i): File => [`Sätze/${i} ✓.bin`, new Uint8Array(bytes), packing])
      const { laid, bytes } = makeZip(named)
      const chosen = laid.filter((_, i) => files[i]?.[2])
      const plan = planZipPart(chosen, [{ path: 'STEPS.txt', text: 'Do this.' }])
      const sewn = sew(plan, bytes)
      expect(sewn).toHaveLength(plan.sizeBytes)
      const source = toByteSource(sewn)
      const [steps, ...entries] = await listZip(source)
      expect(steps && (await readZipEntry(source, steps))).toEqual(toUtf8('Do this.'))
      const wanted = named.filter((_, i) => files[i]?.[2])
      expect(entries.map(({ path }) => path)).toEqual(wanted.map(([path]) => path))
      // reading checks the checksum that was taken over
      for (const [i, entry] of entries.entries()) expect(await readZipEntry(source, entry)).toEqual(wanted[i]?.[1])
    }),
    { numRuns: 60 },
  )
})

it('says of each file where its packed bytes begin, as the archive itself says it', async () => {
  const { laid, bytes } = makeZip([
    ['a.txt', toUtf8('tide '.repeat(90)), 'deflate'],
    ['é.png', toUtf8('pixels'), 'store'],
  ])
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  const listed = await listZip(toByteSource(bytes))
  for (const [i, { localOffset }] of listed.entries()) {
    // APPNOTE 4.3.7: the local header, then the name, then the extra field
    const begins = localOffset + 30 + view.getUint16(localOffset + 26, true) + view.getUint16(localOffset + 28, true)
    expect(laid[i]?.at).toBe(begins)
  }
})

it('is sound to unzip, the outside reference', () => {
  const { laid, bytes } = makeZip([
    ['Kelp/x.txt', toUtf8('wrack '.repeat(300)), 'deflate'],
    ['Kelp/y.png', toUtf8('p'.repeat(40)), 'store'],
    ['z.png', toUtf8('z'), 'store'],
  ])
  const path = join(mkdtempSync(join(tmpdir(), 'part-')), 'part.zip')
  writeFileSync(path, sew(planZipPart(laid.slice(0, 2), []), bytes))
  expect(execFileSync('unzip', ['-t', path], { encoding: 'utf8' })).toContain('No errors detected')
})

it('refuses a name that is there twice', () => {
  const { laid } = makeZip([['STEPS.txt', toUtf8('own'), 'store']])
  expect(() => planZipPart(laid, [{ path: 'STEPS.txt', text: '' }])).toThrow('each name once')
})
