import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { crc32 } from 'node:zlib'
import { writeGbr } from '@satchel/core/formats/gbr/write'
import { writePng } from '@satchel/core/formats/png/write'
import { toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { MANIFEST_MAX_BYTES } from '@satchel/core/limits'
import { beforeAll, describe, expect, it } from 'vitest'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
let folder = ''
const at = (name: string) => join(folder, name)
/** Nothing here may take longer than that, on whatever machine: what never ends is ended. */
const GIVE_UP_MS = 45_000
const run = (...args: string[]) =>
  spawnSync(satchel, args, { encoding: 'utf8', cwd: folder, timeout: GIVE_UP_MS, killSignal: 'SIGKILL' })
/** A dark mark on white. */
const grey = (side: number) => ({
  width: side,
  height: side,
  channels: 1 as const,
  data: Uint8Array.from({ length: side * side }, (_, i) =>
    Math.hypot((i % side) - side / 2, i / side - side / 2) < side / 4 ? 20 : 255,
  ),
})

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'cli-hostile-'))
})

describe('./satchel', () => {
  it('prints no name as anything but letters, in listings and messages', () => {
    const name = 'Kelp\u001b]0;x\u0007\u202ednu\r'
    // our own writer would let no such name through
    const plain = writeGbr({ version: 2, name: 'n'.repeat(toUtf8(name).length), spacingPct: 10, ...grey(4) })
    plain.set(toUtf8(name), 28)
    writeFileSync(at('evil.gbr'), plain)
    for (const args of [
      ['inspect', at('evil.gbr')],
      ['inspect', '--json', at('evil.gbr')],
      ['inspect', at('\u001b[31mgone\u0007.png')],
      ['convert', at('evil.gbr'), at('out\u001b[2J.png'), '--to', 'odd\u0007'],
      ['stroke', at('evil.gbr'), '--out', at('s.png'), '--brush', 'x\u001b[1m'],
      [`od${String.fromCharCode(27)}d`],
    ]) {
      const { stdout, stderr } = run(...args)
      // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for
      expect(stdout + stderr, args.join(' ')).not.toMatch(/[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u202a-\u202e]/)
    }
    expect(run('inspect', at('evil.gbr')).stdout).toContain('Kelp\\u001b]0;x\\u0007\\u202ednu')
  })

  it.each([
    ['a file that never ends', ['tip', '/dev/zero', '--out', 'x.png'], 1, 'too large'],
    ['the same as a pack', ['inspect', '/dev/zero'], 1, 'too large'],
    ['the same as steps', ['tip', 'grey.png', '--out', 'x.png', '--steps', '/dev/zero'], 1, 'too large'],
    ['a folder where none can be made', ['split', 'grey.png', '--out', '/proc/x'], 1, '/proc/x'],
    ['the same further down', ['layers', 'grey.png', '--out', '/proc/1/x/y/z'], 1, '/proc/1'],
    ['the same of what is fitted', ['fit', 'grey.png', '--to', 'dunlin', '--out', '/proc/x/y'], 1, '/proc/x'],
    ['no place at all', ['fit', 'grey.png', '--to', 'dunlin', '--out', ''], 2, '--out takes a name'],
    ['a photograph too small for a tile', ['tile', 'small.png', '--out', 'x.png'], 1, 'small.png'],
    ['values without end in one another', ['stroke', 'grey.png', '--out', 'x.png', '--recipe', 'deep.json'], 1, 'the depth of values'],
    ['a drawing whose head is made to be looked at for ever', ['inspect', 'head.svg'], 1, 'head.svg'],
    ['the same as a tip', ['tip', 'head.svg', '--out', 'x.png'], 1, 'head.svg'],
    ['the same as a model', ['depth', 'head.svg', '--out', 'x.png'], 1, 'head.svg'],
    ['a pack whose manifest is larger than is taken', ['inspect', 'large.zip'], 1, 'pack.json in bytes'],
    ['the same when it is checked', ['check', 'large.zip'], 1, 'pack.json in bytes'],
  ])('ends with a sentence and writes nothing: %s', (_what, args, code, sentence) => {
    writeFileSync(at('grey.png'), writePng(grey(64)))
    writeFileSync(at('small.png'), writePng(grey(10)))
    writeFileSync(at('deep.json'), '['.repeat(300_000))
    writeFileSync(at('head.svg'), `${'<!---->'.repeat(40)}<x`)
    if (args.includes('large.zip') && !existsSync(at('large.zip'))) {
      const zip = new ZipWriter({ crc32 })
      const manifest = toUtf8(`{"format":"satchel-pack","help":"${'x'.repeat(MANIFEST_MAX_BYTES)}"}`)
      const sums = toUtf8(`${'0'.repeat(64)}  pack.json\n`)
      const parts = [...zip.add('pack.json', manifest, 'store'), ...zip.add('SHA256SUMS', sums, 'store')]
      writeFileSync(at('large.zip'), Buffer.concat([...parts, ...zip.finish()]))
    }
    const before = readdirSync(folder)
    const { status, stdout, stderr, signal } = run(...args)
    expect([signal, status], stderr).toEqual([null, code])
    expect(stdout + stderr).toContain(sentence)
    expect(stdout + stderr).not.toMatch(/\n {4}at /)
    expect(readdirSync(folder)).toEqual(before)
  }) // biome-ignore format: one row a way
})
