import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { writePng } from '@satchel/core/formats/png/write'
import { toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import { hashBytes, hashPixels, type PixelSha } from '@satchel/core/hashes'
import { PACK_VERSION, type PackBrush, type PackManifest } from '@satchel/core/pack/manifest'
import { satchelPackEntries } from '@satchel/core/pack/write'
import type { Pixels } from '@satchel/core/raster/pixels'

export const folder = mkdtempSync(join(tmpdir(), 'packs-'))
const tip = (side: number): Pixels => ({
  ...{ width: side, height: side, channels: 1 },
  data: Uint8Array.from({ length: side * side }, (_, i) => (i * 37) % 251),
})
export const tips = new Map([8, 12].map((side) => [hashPixels(tip(side)), writePng(tip(side))]))
export const [small, large] = [...tips.keys()] as [PixelSha, PixelSha]
export const brush = (id: string, over: Partial<PackBrush> = {}): PackBrush => ({
  ...{ id, name: `Brush ${id}`, maker: 'Ida', licence: 'CC0-1.0', tags: [], recipe: defaultRecipe({ sizePx: 20 }) },
  ...{ frames: [small], frameNames: [], keys: [], thumbnail: { from: 'stroke' }, note: '' },
  ...over,
})

/** Writes a Satchel pack; or a download that holds it. */
export async function write(name: string, brushes: PackBrush[], release: string, isDownload = false): Promise<string> {
  const manifest: PackManifest = {
    ...{ format: 'satchel-pack', version: PACK_VERSION, title: 'Shore', maker: 'Ida', licence: 'CC0-1.0', help: '' },
    ...{ release, brushes, grains: [], strips: [], single: [], pockets: [], destinations: [] },
    sets: [{ name: 'Reeds', brushes: brushes.map(({ id }) => id) }],
  }
  const pictures = {
    loadPng: async (sha: PixelSha) => tips.get(sha) ?? writePng(tip(8)),
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
