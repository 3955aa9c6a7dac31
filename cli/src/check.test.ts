import { spawnSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { writeGbr } from '@satchel/core/formats/gbr/write'
import { writePng } from '@satchel/core/formats/png/write'
import { toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { hashBytes } from '@satchel/core/hashes'
import { SIGNATURE_PATH, SIGNER_PATH, type Signer } from '@satchel/core/pack/signature'
import { formatSums } from '@satchel/core/pack/sums'
import { createSigningKey, fingerprintOf, openSigner } from '@satchel/node/signature'
import { describe, expect, it } from 'vitest'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'check-'))
const tip = { width: 2, height: 2, channels: 1 as const, data: Uint8Array.of(1, 2, 3, 4) }
const png = writePng(tip)
const gbr = writeGbr({ version: 2, name: 'x', spacingPct: 10, ...tip })

/** Writes a download of these files with these checksums, and checks it. */
function check(
  files: Record<string, Uint8Array>,
  sums: Record<string, Uint8Array> = files,
  { signer, more = {}, args = [] }: { signer?: Signer; more?: Record<string, Uint8Array>; args?: string[] } = {},
): { status: number | null; stdout: string } {
  const zip = new ZipWriter()
  const list = toUtf8(formatSums(Object.entries(sums).map(([path, bytes]) => ({ path, sha256: hashBytes(bytes) }))))
  const signed = signer ? { [SIGNATURE_PATH]: signer.sign(list), [SIGNER_PATH]: toUtf8(signer.pem) } : {}
  const entries = { ...files, SHA256SUMS: list, ...signed, ...more }
  const parts = Object.entries(entries).flatMap(([path, bytes]) => zip.add(path, bytes, 'store'))
  const path = join(folder, 'd.zip')
  writeFileSync(path, Buffer.concat([...parts, ...zip.finish()]))
  const { status, stdout, stderr } = spawnSync(satchel, ['check', path, ...args], { encoding: 'utf8' })
  return { status, stdout: stdout + stderr }
}

describe('./satchel check', () => {
  it('finds a sound download sound', () => {
    const { status, stdout } = check({ 'S/a.png': png, 'S/a.gbr': gbr, 'README.txt': toUtf8('hello') })
    expect(stdout).toContain('4 files, all sound.')
    expect(status).toBe(0)
  })

  it.each([
    ['a changed file', { 'S/a.png': png }, { 'S/a.png': gbr }, 'S/a.png: its checksum differs.'],
    ['a file nobody listed', { 'S/a.png': png, 'S/b.png': png }, { 'S/a.png': png }, 'S/b.png: it has no checksum.'],
    ['a missing file', { 'S/a.png': png }, { 'S/a.png': png, 'S/b.png': png }, 'S/b.png: it is missing.'],
    ['a brush under a picture’s name', { 'S/a.png': gbr }, { 'S/a.png': gbr }, 'S/a.png: it is gbr inside.'],
    [
      'a brush cut short',
      { 'S/a.gbr': gbr.subarray(0, 30) },
      { 'S/a.gbr': gbr.subarray(0, 30) },
      'S/a.gbr: Not a readable GBR brush',
    ],
    ['a pack that is none', { 'P.satchel.zip': png }, { 'P.satchel.zip': png }, 'the end of a directory'],
  ])('tells %s and exits 1', (_what, files, sums, sentence) => {
    const { status, stdout } = check(files as Record<string, Uint8Array>, sums as Record<string, Uint8Array>)
    expect(stdout).toContain(sentence)
    expect(status).toBe(1)
  })

  describe('of what is signed', () => {
    const key = createSigningKey()
    const signer = openSigner(key.privatePem)
    const fingerprint = fingerprintOf(signer.pem)
    const files = { 'S/a.png': png, 'S/a.gbr': gbr }

    it('says by whom, and that nobody did', () => {
      const { status, stdout } = check(files, files, { signer })
      expect([status, stdout]).toEqual([0, expect.stringContaining(`signed by ${fingerprint}.`)])
      expect(check(files).stdout).toContain('nobody has signed it.')
    })

    it('finds what was changed, added and taken out, though it was listed anew', () => {
      const other = { 'S/a.png': gbr, 'S/b.gbr': gbr }
      // the list was made to fit, and is not the one that was signed
      const forged = check(files, files, {
        more: { [SIGNATURE_PATH]: signer.sign(toUtf8('another list')), [SIGNER_PATH]: toUtf8(signer.pem) },
      })
      expect([forged.status, forged.stdout]).toEqual([
        1,
        expect.stringContaining('SHA256SUMS: it was changed after it was signed'),
      ])
      const changed = check(other, files, { signer })
      for (const sentence of [
        'S/a.png: its checksum differs.',
        'S/b.gbr: it has no checksum.',
        'S/a.gbr: it is missing.',
      ])
        expect(changed.stdout).toContain(sentence)
      expect(changed.status).toBe(1)
    })

    it('finds half a signature, and a key that is none', () => {
      const half = check(files, files, { more: { [SIGNATURE_PATH]: new Uint8Array(64) } })
      expect([half.status, half.stdout]).toEqual([1, expect.stringContaining('SIGNER.pem: it is missing')])
      const none = check(files, files, { more: { [SIGNATURE_PATH]: new Uint8Array(64), [SIGNER_PATH]: toUtf8('me') } })
      expect([none.status, none.stdout]).toEqual([1, expect.stringContaining('SIGNER.pem: it is no public key.')])
    })

    it('asks for the signer that one was told of', () => {
      const own = check(files, files, { signer, args: ['--signer', fingerprint] })
      expect(own.status).toBe(0)
      const stranger = openSigner(createSigningKey().privatePem)
      const other = check(files, files, { signer: stranger, args: ['--signer', fingerprint] })
      expect([other.status, other.stdout]).toEqual([
        1,
        expect.stringContaining('the signer you asked for is another one'),
      ])
      expect(check(files, files, { args: ['--signer', fingerprint] }).status).toBe(1)
    })
  })

  it('says when a file is no archive, or not there', () => {
    writeFileSync(join(folder, 'no.zip'), 'nothing')
    expect(spawnSync(satchel, ['check', join(folder, 'no.zip')], { encoding: 'utf8' }).stderr).toContain(
      'the archive is cut short',
    )
    const gone = spawnSync(satchel, ['check', join(folder, 'gone.zip')], { encoding: 'utf8' })
    expect([gone.status, gone.stderr.includes('gone.zip: there is no such file')]).toEqual([1, true])
  })
})
