import { spawnSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { writePng } from '@satchel/core/formats/png/write'
import { toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { hashBytes, hashPixels } from '@satchel/core/hashes'
import { PACK_VERSION, type PackBrush, type PackManifest } from '@satchel/core/pack/manifest'
import { satchelPackEntries } from '@satchel/core/pack/write'
import type { Pixels } from '@satchel/core/raster/pixels'
import { describe, expect, it } from 'vitest'

const satchel = fileURLToPath(new URL('../../satchel', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'diff-'))
const tip = (side: number): Pixels => ({
  ...{ width: side, height: side, channels: 1 },
  data: Uint8Array.from({ length: side * side }, (_, i) => (i * 37) % 251),
})
const tips = new Map([8, 12].map((side) => [hashPixels(tip(side)), writePng(tip(side))]))
const [small, large] = [...tips.keys()]
const brush = (id: string, over: Partial<PackBrush> = {}): PackBrush => ({
  ...{ id, name: `Brush ${id}`, maker: 'Ida', licence: 'CC0-1.0', tags: [], recipe: defaultRecipe({ sizePx: 20 }) },
  ...{ frames: [small!], frameNames: [], keys: [], thumbnail: { from: 'stroke' }, note: '' },
  ...over,
})

/** Writes a Satchel pack; or a download that holds it. */
async function write(name: string, brushes: PackBrush[], release: string, isDownload = false): Promise<string> {
  const manifest: PackManifest = {
    ...{ format: 'satchel-pack', version: PACK_VERSION, title: 'Shore', maker: 'Ida', licence: 'CC0-1.0', help: '' },
    ...{ release, brushes, grains: [], strips: [], single: [], pockets: [], destinations: [] },
    sets: [{ name: 'Reeds', brushes: brushes.map(({ id }) => id) }],
  }
  const pictures = {
    loadPng: async (sha: string) => tips.get(sha as never)!,
    loadThumbnail: async () => writePng(tip(8)),
  }
  const zip = new ZipWriter()
  const parts: Uint8Array[] = []
  for await (const { path, bytes } of satchelPackEntries(
    manifest,
    { readme: '', licence: 'as you like' },
    pictures,
    hashBytes,
  ))
    parts.push(...zip.add(path, bytes, 'store'))
  const pack = Buffer.concat([...parts, ...zip.finish()])
  const outer = new ZipWriter()
  const bytes = isDownload
    ? Buffer.concat([
        ...outer.add('README.txt', toUtf8('x'), 'store'),
        ...outer.add('Shore.satchel.zip', pack, 'store'),
        ...outer.finish(),
      ])
    : pack
  writeFileSync(join(folder, name), bytes)
  return join(folder, name)
}
const diff = (...args: string[]) => spawnSync(satchel, ['diff', ...args], { encoding: 'utf8' })

describe('./satchel diff', () => {
  it('tells what changed between a download and a pack, with sizes of pictures and the step it makes', async () => {
    const before = await write('a.zip', [brush('a'), brush('b'), brush('c')], '1.0.0', true)
    const wider = { ...defaultRecipe({ sizePx: 20 }), path: { ...defaultRecipe().path, spacingPct: 60 } }
    const after = await write(
      'b.zip',
      [brush('b', { name: 'Feather' }), brush('a', { frames: [large!], recipe: wider }), brush('d')],
      '2.0.0',
    )
    const { stdout, status } = diff(before, after)
    expect(status).toBe(0)
    const [sizeA, sizeB] = [tips.get(small!)?.length, tips.get(large!)?.length]
    expect(stdout.split('\n')).toEqual([
      `From ${before} (1.0.0) to ${after} (2.0.0):`,
      '  new      Brush d',
      '  gone     Brush c',
      '  renamed  Brush b -> Feather',
      expect.stringMatching(/^ {2}moved {4}(Feather|Brush a): place \d of Reeds -> place \d$/),
      '  changed  Brush a',
      `             Frames: 1 frame, 8 × 8 px, ${sizeA} bytes -> 1 frame, 12 × 12 px, ${sizeB} bytes`,
      '             Spacing: 25 % -> 60 %',
      'A large step: something is gone or renamed.',
      '',
    ])
    const json = JSON.parse(diff(before, after, '--json').stdout)
    expect(json.brushes.new).toEqual([{ id: 'd', name: 'Brush d' }])
  })

  it('says that two hold the same, and what is none', async () => {
    const one = await write('c.zip', [brush('a')], '1.0.0')
    expect(diff(one, one).stdout).toContain('They hold the same.')
    writeFileSync(join(folder, 'none.zip'), 'no archive')
    const { status, stderr } = diff(one, join(folder, 'none.zip'))
    expect(status).toBe(1)
    expect(stderr).toContain('none.zip')
  })
})
