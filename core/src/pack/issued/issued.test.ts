import { deflateRawSync, constants as zlib } from 'node:zlib'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { joinBytes } from '../../formats/bytes.ts'
import { combineCrc } from '../../formats/crc-combine.ts'
import { crc32 } from '../../formats/crc32.ts'
import { readPng } from '../../formats/png/read.ts'
import { writePng } from '../../formats/png/write.ts'
import { fromUtf8, toUtf8 } from '../../formats/text.ts'
import { toByteSource } from '../../formats/zip/layout.ts'
import { lengthOf, type Patchwork } from '../../formats/zip/part.ts'
import { listZip, readZipEntry } from '../../formats/zip/read.ts'
import { ZipWriter } from '../../formats/zip/write.ts'
import { hashBytes } from '../../hashes.ts'
import { NAME_MAX_CHARS } from '../../limits.ts'
import { hashBeginning, hashOn } from '../../sha-state.ts'
import { roundTip } from '../../testing.ts'
import type { LaidFile } from '../contents.ts'
import type { Signer } from '../signature.ts'
import { formatSums, parseSums, SUMS_PATH } from '../sums.ts'
import { beginFile, storeBegun } from './begun-file.ts'
import { findMarks } from './find-marks.ts'
import { type CopyMark, checkMark, signMark } from './mark.ts'
import { MARK_KIND_NAMES, MARK_KINDS, markKindOf, putMark, takeMark } from './mark-kinds.ts'
import { planCopy, planFileCopy } from './plan-copy.ts'

/** Signs by saying the hash; real signatures are tried where there are keys. */
const signer: Signer = {
  pem: 'a key',
  sign: (bytes) => toUtf8(hashBytes(bytes)),
}
const COPY = '7b1f3a52-90c4-4d1e-8a55-0d6f5b1f2c3d'
const markTo = (to: string): CopyMark => signMark({ to, of: 'Saltmarsh 1.0.0', copy: COPY }, signer)
const NAMES = [
  'Ilse Farrow',
  '海辺の教室',
  'مجموعة الرسم',
  'a -- b --> c <!-- d',
  '</script>&#45;&amp;',
  '"\\n\\',
  '👩‍👩‍👧 %',
] as const
const anyName = fc.oneof(
  fc.constantFrom(...NAMES),
  fc.string({ unit: 'grapheme', minLength: 1, maxLength: NAME_MAX_CHARS }),
)
const tip = () => writePng(roundTip(24))
/** A file of each kind, called as it is in a download. */
const FILES: Record<keyof typeof MARK_KINDS, [path: string, bytes: () => Uint8Array]> = {
  picture: ['Shore/Kelp.png', tip],
  manifest: ['pack.json', () => toUtf8(`${JSON.stringify({ format: 'x', sets: [{ name: 'issued' }] }, null, 1)}\n`)],
  text: ['README.txt', () => toUtf8('Saltmarsh\nIssued to: nobody yet\n')],
  page: ['HELP.html', () => toUtf8('<!doctype html><p>Hold it flat</p>\n')],
  print: ['SHEET.pdf', () => toUtf8('%PDF-1.7\n%%EOF\n')],
}

it('a hash is gone on with from any place, as SHA-256 (FIPS 180-4) has it', async () => {
  await fc.assert(
    fc.asyncProperty(fc.uint8Array({ maxLength: 300 }), fc.uint8Array({ maxLength: 300 }), async (a, b) => {
      expect(hashOn(await hashBeginning(a), a.length, b)).toBe(hashBytes(a, b))
    }),
  )
  const large = new Uint8Array(300_000).map((_, i) => i * 7)
  let pauses = 0
  const state = await hashBeginning(large, async () => void pauses++)
  expect(hashOn(state, large.length)).toBe(hashBytes(large))
  expect(pauses).toBeGreaterThan(2)
})

it('the CRC of two pieces follows from that of each', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), fc.uint8Array({ maxLength: 400 }), (a, b) => {
      expect(combineCrc(crc32(a), crc32(b), b.length)).toBe(crc32(joinBytes([a, b])))
    }),
  )
  const zeros = new Uint8Array(5_000_000)
  expect(combineCrc(crc32(Uint8Array.of(1)), crc32(zeros), zeros.length)).toBe(
    crc32(joinBytes([Uint8Array.of(1), zeros])),
  )
})

describe('a mark', () => {
  it.each(MARK_KIND_NAMES)(
    'is put into a %s and taken out again, whatever the name; the rest stays as it was',
    (kind) => {
      const [path, make] = FILES[kind]
      const bytes = make()
      expect(markKindOf(path)).toBe(kind)
      expect(takeMark(path, bytes)).toBeUndefined()
      fc.assert(
        fc.property(anyName, (name) => {
          const mark = markTo(name)
          const taken = takeMark(path, putMark(path, bytes, mark))
          expect(taken?.mark).toEqual(mark)
          expect(taken?.bytes).toEqual(bytes)
        }),
      )
    },
  )

  it('leaves a picture the same picture, a manifest JSON, and ends no comment too early', () => {
    for (const name of NAMES) {
      const mark = markTo(name)
      const put = (kind: keyof typeof FILES) => putMark(FILES[kind][0], FILES[kind][1](), mark)
      const reading = readPng(put('picture'))
      expect(reading.frames[0].pixels).toEqual(roundTip(24))
      expect(reading.warnings).toEqual([])
      expect(JSON.parse(fromUtf8(put('manifest'), 'manifest', 0))).toMatchObject({ format: 'x', issued: mark })
      const page = fromUtf8(put('page'), 'page', 0)
      expect(page.split('--')).toHaveLength(3)
      expect(page.endsWith('-->\n')).toBe(true)
    }
  })

  it('that was changed is not as it was signed', () => {
    const checked = (mark: CopyMark) =>
      checkMark(mark, 'a key', (_, bytes, signature) => ({
        fingerprint: '',
        isValid: fromUtf8(signature, 'signature', 0) === hashBytes(bytes),
      }))?.isValid
    const mark = markTo('Ilse Farrow')
    expect(checked(mark)).toBe(true)
    expect(checked({ ...mark, to: 'Ilse Farow' })).toBe(false)
    expect(checked({ ...mark, of: 'Saltmarsh 1.0.1' })).toBe(false)
    expect(checked({ ...mark, copy: COPY.replace('7', '8') })).toBe(false)
  })
})

type Written = { bytes: Uint8Array; laid: LaidFile[] }
/** A download as the server writes it, with what it notes of each file. */
async function write(files: readonly (readonly [string, Uint8Array, 'store' | 'deflate'])[]): Promise<Written> {
  const zip = new ZipWriter({
    deflateOpen: (bytes) => new Uint8Array(deflateRawSync(bytes, { finishFlush: zlib.Z_SYNC_FLUSH })),
  })
  const parts: Uint8Array[] = []
  const noted = new Map<string, Pick<LaidFile, 'sha256' | 'beginning' | 'packedCrc'>>()
  for (const [path, bytes, packing] of files) {
    const kind = markKindOf(path)
    const begun = await beginFile(path, bytes)
    const sha256 = hashBytes(bytes)
    if (kind && begun) {
      const [header, first, last] = zip.addSplit(path, bytes, packing, MARK_KINDS[kind].tailBytes)
      noted.set(path, { sha256, beginning: storeBegun(begun, first.length), packedCrc: crc32(first) })
      parts.push(header, first, last)
    } else {
      const [header, content] = zip.add(path, bytes, packing)
      noted.set(path, { sha256, packedCrc: crc32(content) })
      parts.push(header, content)
    }
  }
  const laid = zip.laid.map((entry) => ({ ...entry, ...noted.get(entry.path) }))
  return { bytes: joinBytes([...parts, ...zip.finish()]), laid }
}

const assemble = ({ stretches }: Patchwork, from: Uint8Array) =>
  joinBytes(stretches.map((each) => ('bytes' in each ? each.bytes : from.subarray(each.at, each.at + each.length))))

async function unzip(bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  const source = toByteSource(bytes)
  const files = new Map<string, Uint8Array>()
  // reading checks sizes and CRC
  for (const entry of await listZip(source)) files.set(entry.path, await readZipEntry(source, entry))
  return files
}

const sumsOf = (files: readonly (readonly [string, Uint8Array, ...unknown[]])[]) =>
  toUtf8(formatSums(files.map(([path, bytes]) => ({ path, sha256: hashBytes(bytes) }))))

async function download() {
  const rows = MARK_KIND_NAMES.map((kind) => {
    const [path, make] = FILES[kind]
    return [path, make(), kind === 'picture' || kind === 'print' ? 'store' : 'deflate'] as const
  })
  const inside = [
    ...rows.filter(([path]) => !path.startsWith('HELP')),
    ['tips/a.gbr', roundTip(9).data, 'store'] as const,
  ]
  const inner = await write([...inside, [SUMS_PATH, sumsOf(inside), 'deflate']])
  const around = [
    ...rows.filter(([path]) => path !== 'pack.json'),
    ['LICENSE.txt', toUtf8('Free '.repeat(90)), 'deflate'] as const,
  ]
  const outer = await write([
    ...around,
    ['Shore.satchel.zip', inner.bytes, 'store'],
    [SUMS_PATH, sumsOf([...around, ['Shore.satchel.zip', inner.bytes]]), 'deflate'],
  ])
  return { files: outer.laid, inner: inner.laid, satchelPath: 'Shore.satchel.zip', texts: [], bytes: outer.bytes }
}

describe('a copy', () => {
  it('is sound, says in every file that can whom it was issued to, and is as released but for that', async () => {
    const whole = await download()
    const released = await unzip(whole.bytes)
    for (const name of NAMES) {
      const mark = markTo(name)
      const plan = await planCopy(whole, mark, { signer })
      const bytes = assemble(plan, whole.bytes)
      expect(bytes.length).toBe(plan.sizeBytes)
      const files = await unzip(bytes)
      for (const [archive, was] of [
        [files, released],
        [await unzip(files.get('Shore.satchel.zip') ?? bytes), await unzip(released.get('Shore.satchel.zip') ?? bytes)],
      ] as const) {
        const sums = parseSums(fromUtf8(archive.get(SUMS_PATH) ?? bytes, 'sums', 0))
        // everything but the pack inside, that has its own, and who signs
        const unsummed = ['Shore.satchel.zip', SUMS_PATH, 'SHA256SUMS.sig', 'SIGNER.pem']
        expect(sums.map(({ path }) => path).sort()).toEqual(
          [...archive.keys()].filter((path) => !unsummed.includes(path)).sort(),
        )
        for (const { path, sha256 } of sums) expect(hashBytes(archive.get(path) ?? bytes), path).toBe(sha256)
        for (const [path, before] of was) {
          if (path === 'Shore.satchel.zip') continue
          const now = archive.get(path === SUMS_PATH ? `RELEASED.${path}` : path) ?? bytes
          const taken = takeMark(path, now)
          expect(taken?.mark, path).toEqual(markKindOf(path) ? mark : undefined)
          expect(taken?.bytes ?? now, path).toEqual(before)
        }
      }
    }
  })

  it('takes no reading of what was released: some bytes a file', async () => {
    const whole = await download()
    const { stretches } = await planCopy(whole, markTo('Ilse Farrow'), { signer })
    const read = stretches.flatMap((each) => ('at' in each ? [each] : []))
    // in the order in which they lie there, none twice
    for (const [i, { at }] of read.entries())
      if (i > 0)
        expect(at).toBeGreaterThanOrEqual((read[i - 1]?.at ?? 0) + lengthOf(read[i - 1] ?? { at: 0, length: 0 }))
  })

  it('of one file carries it too', async () => {
    const whole = await download()
    const file = whole.files.find(({ path }) => path === 'Shore/Kelp.png')
    if (!file) throw new Error('the picture is not there')
    const alone = assemble(planFileCopy(file, markTo('Ilse Farrow')), whole.bytes)
    expect(takeMark('Kelp.png', alone)?.bytes).toEqual(tip())
  })

  it('is told of a whole download, a pack, a file that was renamed; of nobody’s nothing is told', async () => {
    const whole = await download()
    const copy = assemble(await planCopy(whole, markTo('Ilse Farrow'), { signer }), whole.bytes)
    const told = async (name: string, bytes: Uint8Array) =>
      (await findMarks(name, toByteSource(bytes))).marks.map(({ to }) => to)
    expect(await told('x.zip', copy)).toEqual(['Ilse Farrow'])
    const files = await unzip(copy)
    expect(await told('x', files.get('Shore.satchel.zip') ?? copy)).toEqual(['Ilse Farrow'])
    for (const kind of MARK_KIND_NAMES.filter((each) => each !== 'manifest'))
      expect(await told('found.bin', files.get(FILES[kind][0]) ?? copy), kind).toEqual(['Ilse Farrow'])
    expect(await told('x.zip', whole.bytes)).toEqual([])
    expect(await told('x.png', tip())).toEqual([])
    expect(await told('x.png', new Uint8Array(0))).toEqual([])
  })
})
