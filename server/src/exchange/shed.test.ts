import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import type { PixelSha } from '@satchel/core/hashes'
import { PACK_FORMAT, PACK_VERSION, type PackManifest } from '@satchel/core/pack/manifest'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import type { ListedPack } from '../workers/list-pack.ts'
import { Shed } from './shed.ts'

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'satchel-shed-'))
})
afterEach(() => rmSync(folder, { recursive: true }))

const sha = (n: number) => n.toString(16).padStart(64, '0') as PixelSha

/** A pack of brushes of so many frames each, as it is listed. */
function packOf(brushes: number, frames: number): ListedPack {
  const manifest: PackManifest = {
    ...{ format: PACK_FORMAT, version: PACK_VERSION, pack: sha(0).slice(0, 36), title: 'Reeds', maker: 'Wren' },
    ...{ licence: 'CC0-1.0', help: '', release: '1.0.0', grains: [], strips: [], single: [], pockets: [] },
    ...{ destinations: [], sets: [] },
    brushes: Array.from({ length: brushes }, (_, k) => ({
      ...{ id: `b${k}`, name: `Reed ${k}`, maker: 'Wren', licence: 'CC0-1.0', tags: [], keys: [], note: '' },
      ...{ recipe: defaultRecipe(), thumbnail: { from: 'stroke' as const } },
      frames: Array.from({ length: frames }, (_, n) => sha(k * frames + n)),
      frameNames: Array.from({ length: frames }, () => ''),
    })),
  }
  const shown = Array.from({ length: brushes }, (_, k) => ({ stroke: new Uint8Array([k]), mark: new Uint8Array(600) }))
  const pictures = new Map(manifest.brushes.flatMap(({ frames: all }) => all.map((each) => [each, new Uint8Array(8)])))
  return { manifest, signer: 'key', pem: '', pictures, brushes: shown }
}
const SAID = { about: '', tags: [], notes: '' }

describe('what an exchange holds', () => {
  it('takes no pack of which more is to be listed than anybody reads, and nothing of it lies there then', async () => {
    const shed = new Shed(folder, 'Shed', async () => packOf(250, 100))
    await expect(shed.publish(new Uint8Array(4), SAID)).rejects.toThrow(
      'takes 4.3 MiB, and an exchange lists 4.0 MiB at most',
    )
    expect(shed.items).toEqual([])
    expect([readdirSync(join(folder, 'packs')), readdirSync(join(folder, 'pictures'))]).toEqual([[], []])
    expect(existsSync(join(folder, 'exchange.json'))).toBe(false)
  })

  it('keeps what it took: all pictures, the pack, and what is told of it, for the next start', async () => {
    const shed = new Shed(folder, 'Shed', async () => packOf(3, 2))
    const { id } = await shed.publish(new Uint8Array([1, 2, 3]), SAID)
    expect(readdirSync(join(folder, 'pictures'))).toHaveLength(3 * 2 + 3)
    const again = new Shed(folder, 'Shed', async () => ({ refused: 'no' }))
    expect(again.find(id)?.brushes.map(({ brush }) => brush.name)).toEqual(['Reed 0', 'Reed 1', 'Reed 2'])
    expect(again.readPack(again.find(id)?.releases[0]?.sha256 ?? '')).toEqual(Buffer.from([1, 2, 3]))
    await expect(again.publish(new Uint8Array(1), SAID)).rejects.toThrow('no')
  })
})
