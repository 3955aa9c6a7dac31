import { execFileSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { joinBytes } from '@satchel/core/formats/bytes'
import { readPng } from '@satchel/core/formats/png/read'
import { toUtf8 } from '@satchel/core/formats/text'
import { toByteSource } from '@satchel/core/formats/zip/layout'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { checkDownload } from '@satchel/core/pack/check'
import { findMarks } from '@satchel/core/pack/issued/find-marks'
import type { CopyMark } from '@satchel/core/pack/issued/mark'
import { markKindOf, putMark, takeMark } from '@satchel/core/pack/issued/mark-kinds'
import { formatSums } from '@satchel/core/pack/sums'
import { hashSource, nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import { checkSignature } from '@satchel/node/signature'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { takeInFiles } from '../testing/gather.ts'
import { type Person, startTestServer, type TestServer, until } from '../testing/test-server.ts'
import { blotPng } from '../testing/tips.ts'

type Told = { isGenuine: boolean; handOut: { id: string; name: string; packId: string } | null }

let server: TestServer
let person: Person
let packId = ''
let releaseId = ''
const NAMES = ['Ilse Farrow', '海辺の教室 -- “B”'] as const
const tokens = new Map<string, { id: string; token: string }>()

async function fetchPart(name: string, query = ''): Promise<{ bytes: Buffer; url: string }> {
  const answer = await fetch(`${server.url}/api/h/${tokens.get(name)?.token}/download${query}`)
  expect(answer.status).toBe(200)
  return { bytes: Buffer.from(await answer.arrayBuffer()), url: answer.url }
}
function unpack(zip: Uint8Array): { folder: string; files: Map<string, Buffer> } {
  const folder = mkdtempSync(join(tmpdir(), 'copy-'))
  writeFileSync(join(folder, 'x.zip'), zip)
  execFileSync('unzip', ['-q', 'x.zip', '-d', 'out'], { cwd: folder })
  const out = join(folder, 'out')
  const paths = readdirSync(out, { recursive: true, withFileTypes: true }).filter((each) => each.isFile())
  return {
    folder: out,
    files: new Map(
      paths.map(({ parentPath, name }) => {
        const path = join(parentPath, name)
        return [path.slice(out.length + 1), readFileSync(path)]
      }),
    ),
  }
}
const tools = {
  ...{ codecs: nodeZipCodecs, decoders: { png: readPng }, hash: nodeHashBytes, hashSource, checkSignature },
}
async function check(zip: Uint8Array) {
  const problems: string[] = []
  let last: { issued?: CopyMark; signedBy?: object; releasedBy?: object } = {}
  for await (const step of checkDownload(toByteSource(zip), tools)) {
    problems.push(...step.problems)
    last = step
  }
  return { ...last, problems }
}
const whose = async (who: Person, marks: readonly CopyMark[]) =>
  (await who.post<{ copies: Told[] }>('/api/packs/hand-outs/copies', { marks })).copies
const marksOf = async (name: string, bytes: Uint8Array) =>
  (await findMarks(name, toByteSource(bytes), nodeZipCodecs)).marks

beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  await takeInFiles(person, {
    'Reeds/one.png': blotPng(1, 120),
    'Reeds/two.png': blotPng(2, 90),
    'Sand/three.png': blotPng(3),
  })
  const { sets } = await person.json<{ sets: { id: string; starter: boolean }[] }>('/api/sets')
  packId = (await person.post<{ id: string }>('/api/packs', { title: 'Shore', licence: 'CC0-1.0' })).id
  await person.post(`/api/packs/${packId}/sets`, { setIds: sets.map(({ id }) => id) }, 'PUT')
  await person.request(`/api/packs/${packId}`, {
    method: 'PATCH',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ destinationIds: ['dunlin', 'sanderling'], help: '# Hold it flat\n\nand press.' }),
  })
  releaseId = (await person.post<{ id: string }>(`/api/packs/${packId}/releases`, { version: '1.0.0', notes: '' })).id
  await until(async () => {
    const { releases } = await person.json<{ releases: { id: string; state: string }[] }>(`/api/packs/${packId}`)
    return releases.find((each) => each.id === releaseId)?.state === 'ready'
  }, 240_000)
  for (const name of NAMES) {
    const made = await person.post<{ id: string; link: string }>(`/api/packs/${packId}/hand-outs`, { releaseId, name })
    tokens.set(name, { id: made.id, token: made.link.split('/').at(-1) ?? '' })
  }
}, 300_000)
afterAll(() => server.close())

describe('a copy', () => {
  it('says in every file whom it was issued to, for programs that know nothing of us too', async () => {
    for (const name of NAMES) {
      const { bytes } = await fetchPart(name)
      const { folder, files } = unpack(bytes)
      const sums = execFileSync('sha256sum', ['-c', 'SHA256SUMS'], { cwd: folder, encoding: 'utf8' })
      expect(
        sums
          .trim()
          .split('\n')
          .every((line) => line.endsWith(': OK')),
      ).toBe(true)
      const verified = execFileSync(
        'openssl',
        'pkeyutl -verify -pubin -inkey SIGNER.pem -rawin -in SHA256SUMS -sigfile SHA256SUMS.sig'.split(' '),
        { cwd: folder, encoding: 'utf8' },
      )
      expect(verified).toContain('Signature Verified Successfully')
      execFileSync(
        'openssl',
        'pkeyutl -verify -pubin -inkey RELEASED.SIGNER.pem -rawin -in RELEASED.SHA256SUMS -sigfile RELEASED.SHA256SUMS.sig'.split(
          ' ',
        ),
        { cwd: folder },
      )
      expect(files.get('README.txt')?.toString()).toContain('RELEASED.SHA256SUMS lists the files as they were released')
      expect(files.get('README.txt')?.toString()).toContain(`\nIssued to: ${name}\nRelease: Shore 1.0.0\n`)
      const pngs = [...files.keys()].filter((path) => path.endsWith('.png'))
      expect(pngs.length).toBeGreaterThan(5)
      const texts = execFileSync(
        '/usr/bin/python3',
        [
          '-c',
          'import sys\nfrom PIL import Image\nfor p in sys.argv[1:]:\n  im=Image.open(p); im.load(); print(im.text["Copy"].split("\\n")[0])',
          ...pngs,
        ],
        { cwd: folder, encoding: 'utf8', env: { PYTHONIOENCODING: 'utf8' } },
      )
      expect(texts.trim().split('\n')).toEqual(pngs.map(() => `Issued to: ${name}`))
      execFileSync('qpdf', ['--check', 'SHEET.pdf'], { cwd: folder })
      expect(execFileSync('pdftotext', ['SHEET.pdf', '-'], { cwd: folder, encoding: 'utf8' })).toContain('Shore')
      const inner = unpack(files.get('Shore.satchel.zip') ?? bytes)
      execFileSync('sha256sum', ['-c', '--quiet', 'SHA256SUMS'], { cwd: inner.folder })
      expect(JSON.parse(inner.files.get('pack.json')?.toString() ?? '').issued.to).toBe(name)
    }
  }, 60_000)

  it('is sound by our own check, which says whose it is; what was changed since is told', async () => {
    const { bytes } = await fetchPart(NAMES[0])
    const sound = await check(bytes)
    expect(sound.problems).toEqual([])
    expect(sound.issued?.to).toBe(NAMES[0])
    expect([sound.signedBy, sound.releasedBy]).toMatchObject([{ isValid: true }, { isValid: true }])
    // an archive made anew by somebody who would rather be another one
    const { folder } = unpack(bytes)
    const readme = join(folder, 'README.txt')
    writeFileSync(readme, readFileSync(readme, 'utf8').replace(NAMES[0], 'Somebody Else'))
    execFileSync('bash', ['-c', 'zip -qrX0 ../y.zip .'], { cwd: folder })
    const forged = await check(readFileSync(join(folder, '../y.zip')))
    expect(forged.problems).toContain('README.txt: its checksum differs.')
    expect(forged.problems.join('\n')).toContain('it was issued to another one')
  })

  it('that says another name all through, with checksums made anew, is told by the signature that does not fit', async () => {
    const { files } = unpack((await fetchPart(NAMES[0])).bytes)
    const forged = (all: Map<string, Buffer>): Uint8Array => {
      const out = new Map<string, Uint8Array>()
      for (const [path, bytes] of all) {
        const taken = takeMark(path, bytes)
        if (path.endsWith('.satchel.zip')) out.set(path, forged(unpack(bytes).files))
        else if (!path.startsWith('SHA256SUMS'))
          out.set(path, taken ? putMark(path, taken.bytes, { ...taken.mark, to: 'Somebody Else' }) : bytes)
      }
      const sums = [...out].filter(([path]) => !/^SIGNER|\.satchel\.zip$/.test(path))
      out.set('SHA256SUMS', toUtf8(formatSums(sums.map(([path, bytes]) => ({ path, sha256: nodeHashBytes(bytes) })))))
      const zip = new ZipWriter()
      return joinBytes([...[...out].flatMap(([path, bytes]) => zip.add(path, bytes, 'store')), ...zip.finish()])
    }
    const checked = await check(forged(files))
    expect(checked.issued?.to).toBe('Somebody Else')
    expect(checked.problems).toContain('SIGNER.pem: whom it was issued to was changed, or another one says so.')
    expect(checked.problems.some((each) => each.includes('not as it was released'))).toBe(false)
  })

  it('differs between two people in what says whose it is, and in nothing else', async () => {
    const [one, other] = await Promise.all(NAMES.map(async (name) => unpack((await fetchPart(name)).bytes).files))
    const bare = (files: Map<string, Buffer> | undefined) =>
      [...(files ?? [])]
        .filter(([path]) => !/^SHA256SUMS|\.satchel\.zip$/.test(path))
        .map(([path, bytes]) => [path, nodeHashBytes(takeMark(path, bytes)?.bytes ?? bytes)])
    expect(bare(one)).toEqual(bare(other))
    const differ = [...(one ?? [])].filter(([path, bytes]) => !other?.get(path)?.equals(bytes)).map(([path]) => path)
    expect(differ.filter((path) => !/^SHA256SUMS|\.satchel\.zip$/.test(path))).toEqual(
      [...(one?.keys() ?? [])].filter((path) => markKindOf(path) !== undefined),
    )
  })

  it('is the same whenever it is fetched, and can be gone on with from any byte', async () => {
    const { bytes, url } = await fetchPart(NAMES[1])
    expect((await fetchPart(NAMES[1])).bytes.equals(bytes)).toBe(true)
    // some of these lie in a mark, in a header, in the checksums at the end
    for (const first of [1, 57, 999, Math.floor(bytes.length / 3), Math.floor(bytes.length / 2), bytes.length - 700]) {
      const answer = await fetch(url, { headers: { range: `bytes=${first}-` } })
      expect(answer.status).toBe(206)
      expect(Buffer.from(await answer.arrayBuffer()).equals(bytes.subarray(first)), String(first)).toBe(true)
    }
  })

  it.each(['?as=app.dunlin', '?as=open', '?as=satchel', '?as=app.sanderling&of=set.0'])(
    'as a part (%s) is sound and says it too',
    async (query) => {
      const { bytes } = await fetchPart(NAMES[0], query)
      expect((await check(bytes)).problems).toEqual([])
      const told = await whose(person, await marksOf('x', bytes))
      expect(told.map(({ handOut, isGenuine }) => [handOut?.name, isGenuine])).toEqual([[NAMES[0], true]])
    },
  )
})

it('is not gone on with where another name stands in it by now: a file of two halves would be none', async () => {
  const wish = { releaseId, name: 'Fenn Merow' }
  const made = await person.post<{ id: string; link: string }>(`/api/packs/${packId}/hand-outs`, wish)
  tokens.set('Fenn', { id: made.id, token: made.link.split('/').at(-1) ?? '' })
  const { url } = await fetchPart('Fenn')
  const going = () => fetch(url, { headers: { range: 'bytes=5000-' } })
  expect((await going()).status).toBe(206)
  const { handOuts } = await person.json<{ handOuts: { id: string; recipientId: string }[] }>(
    `/api/packs/${packId}/people`,
  )
  const who = handOuts.find(({ id }) => id === made.id)?.recipientId
  await person.post(`/api/packs/hand-outs/people/${who}`, { name: 'Fenn Merrow', email: '', note: '' }, 'PUT')
  const refused = await going()
  expect(refused.status).toBe(410)
  expect(((await refused.json()) as { title: string }).title).toContain('has changed since')
  const { bytes } = await fetchPart('Fenn')
  expect((await marksOf('x.zip', bytes))[0]?.to).toBe('Fenn Merrow')
})

describe('whose a copy is', () => {
  it('is told of a whole one and of one file of it, also when it was renamed, and after the key was changed', async () => {
    const { bytes } = await fetchPart(NAMES[1])
    const { files } = unpack(bytes)
    await person.post('/api/signing/rotate', {})
    for (const [name, of] of [
      ['download.zip', bytes],
      ['renamed', files.get('Shore.satchel.zip') ?? bytes],
      ['a.bin', files.get('Reeds/one.png') ?? bytes],
      ['b.txt', files.get('README.txt') ?? bytes],
    ] as const) {
      const [told] = await whose(person, await marksOf(name, of))
      expect(told, name).toMatchObject({
        isGenuine: true,
        handOut: { id: tokens.get(NAMES[1])?.id, name: NAMES[1], packId },
      })
    }
    // and what is issued from now on is signed by the new one, beside what the old one has released
    const anew = await check((await fetchPart(NAMES[1])).bytes)
    expect(anew.problems).toEqual([])
    expect(anew.signedBy).not.toEqual(anew.releasedBy)
  })

  it('is not told of what somebody made up, and to nobody else', async () => {
    const [mark] = await marksOf('x.zip', (await fetchPart(NAMES[0])).bytes)
    if (!mark) throw new Error('the copy says nothing')
    const [forged] = await whose(person, [{ ...mark, to: 'Somebody Else' }])
    expect(forged).toMatchObject({ isGenuine: false, handOut: { name: NAMES[0] } })
    const [unknown] = await whose(person, [{ ...mark, copy: randomUUID() }])
    expect(unknown).toMatchObject({ isGenuine: false, handOut: null })
    const stranger = await server.owner()
    expect(await whose(stranger, [mark])).toMatchObject([{ isGenuine: false, handOut: null }])
  })
})
