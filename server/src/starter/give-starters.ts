import { starterBrushes } from '@satchel/drawn/starter/starter-brushes'
import { and, eq, sql } from 'drizzle-orm'
import { insertBrushes } from '../db/save-brush.ts'
import { brush } from '../db/schema/all.ts'
import { addItems, createSet } from '../db/sets.ts'
import type { Deps } from '../deps.ts'
import { storeDrawn } from './store-drawn.ts'

const MAKER = 'Gentle Satchel'
const LICENCE = 'CC0-1.0'

/**
 * Gives a workspace the starter library, once: all of it or, where something fails, nothing. Two servers that start
 * together wait for each other here.
 */
export async function giveStarters(
  { db, blobs, events }: Pick<Deps, 'db' | 'blobs' | 'events'>,
  workspaceId: string,
): Promise<void> {
  const isNew = await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`starters ${workspaceId}`}))`)
    const found = await tx
      .select({ id: brush.id })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.starter, true)))
      .limit(1)
    if (found.length > 0) return false
    const drawn = starterBrushes()
    const rows = []
    for (const each of drawn) {
      const row = await storeDrawn(each, { maker: MAKER, licence: LICENCE }, { db: tx, blobs, workspaceId })
      rows.push({ ...row, starter: true })
    }
    const ids = await insertBrushes(tx, workspaceId, rows)
    for (const name of new Set(drawn.map(({ set }) => set))) {
      const { id } = await createSet(tx, workspaceId, name, { starter: true })
      await addItems(
        tx,
        workspaceId,
        id,
        ids.filter((_, i) => drawn[i]?.set === name),
      )
    }
    return true
  })
  if (isNew) await events.publish({ workspaceId, topic: 'library' })
}
