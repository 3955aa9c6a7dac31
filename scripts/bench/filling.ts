import { join } from 'node:path'
import type { AlikePrint } from '@satchel/core/alike/alike-print'
import type { PixelSha } from '@satchel/core/hashes'
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import { openDatabase } from '../../server/src/db/database.ts'
import { insertBrushes } from '../../server/src/db/save-brush.ts'
import { addItems, createSet } from '../../server/src/db/sets.ts'
import { BlobStore } from '../../server/src/pictures/blob-store.ts'
import type { Served } from './served.ts'

const AT_ONCE = 1000

export type Filled = { setIds: string[]; brushIds: string[] }
type Tip = { png: Uint8Array; sidePx: number; pixelSha: PixelSha; alike?: AlikePrint }

/** Puts brushes into a library beside the server, as reading so many pictures would take minutes: a tip of its own each. */
export async function fillLibrary(
  { url, cacheFolder, database }: Served,
  { brushes, perSet, tip }: { brushes: number; perSet: number; tip: (n: number) => Tip },
): Promise<Filled> {
  const { db, pool, close } = openDatabase(url)
  const blobs = new BlobStore(pool, join(cacheFolder, 'blobs'))
  const filled: Filled = { setIds: [], brushIds: [] }
  try {
    const { rows } = await pool.query<{ id: string }>('select id from workspace')
    const workspaceId = rows[0]?.id ?? ''
    for (let from = 0; from < brushes; from += AT_ONCE) {
      const some = await Promise.all(
        Array.from({ length: Math.min(AT_ONCE, brushes - from) }, async (_, at) => {
          const n = from + at
          const { png, sidePx, pixelSha, alike } = tip(n)
          const { sha256 } = await blobs.put(db, workspaceId, png, 'image/png')
          return {
            name: `Brush ${n}`,
            ...{ maker: 'Maker', licence: 'CC0-1.0', tags: ['ink'] },
            recipe: defaultRecipe({ sizePx: 20 + (n % 90) }),
            frames: [{ blobSha: sha256, pixelSha, width: sidePx, height: sidePx }],
            ...{ pixelKey: pixelSha, alikeKey: alike?.key ?? null, alikeMark: alike?.mark ?? null },
          }
        }),
      )
      filled.brushIds.push(...(await insertBrushes(db, workspaceId, some)))
    }
    for (let at = 0; at < brushes; at += perSet) {
      const set = await createSet(db, workspaceId, `Set ${at / perSet}`)
      await db.transaction((tx) => addItems(tx, workspaceId, set.id, filled.brushIds.slice(at, at + perSet)))
      filled.setIds.push(set.id)
    }
    await database.query('vacuum analyze')
    return filled
  } finally {
    await close()
  }
}
