import { and, eq } from 'drizzle-orm'
import { insertBrushes, listTipFrames } from './brushes.ts'
import type { Db } from './database.ts'
import { brush, brushVersion, tip } from './schema/all.ts'
import type { BrushSnapshot } from './schema/library.ts'

/** One saved version of a brush. */
export async function findVersion(
  db: Db,
  workspaceId: string,
  brushId: string,
  ordinal: number,
): Promise<BrushSnapshot | undefined> {
  const [row] = await db
    .select({ snapshot: brushVersion.snapshot })
    .from(brushVersion)
    .where(
      and(
        eq(brushVersion.workspaceId, workspaceId),
        eq(brushVersion.brushId, brushId),
        eq(brushVersion.ordinal, ordinal),
      ),
    )
  return row?.snapshot
}

/** Names a version, or takes its name away. @returns Whether there is such a version. */
export async function labelVersion(
  db: Db,
  where: { workspaceId: string; brushId: string; ordinal: number },
  label: string,
): Promise<boolean> {
  const rows = await db
    .update(brushVersion)
    .set({ label })
    .where(
      and(
        eq(brushVersion.workspaceId, where.workspaceId),
        eq(brushVersion.brushId, where.brushId),
        eq(brushVersion.ordinal, where.ordinal),
      ),
    )
    .returning({ ordinal: brushVersion.ordinal })
  return rows.length > 0
}

/**
 * Copies a brush as it is now. The copy remembers where it came from; its history begins anew.
 * @param options.tipFrom A brush whose tip the copy takes instead.
 * @returns The copy's id, or undefined when the brush, or the one with the tip, is not there.
 */
export async function copyBrush(
  db: Db,
  workspaceId: string,
  id: string,
  { name, maker, tipFrom = id }: { name: string; maker?: string | undefined; tipFrom?: string | undefined },
): Promise<string | undefined> {
  return db.transaction(async (tx) => {
    const [from] = await tx
      .select({ version: brush.version, name: brush.name, maker: brush.maker })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, id)))
    const snapshot = from && (await findVersion(tx, workspaceId, id, from.version))
    const [source] = await tx
      .select({ tipId: brush.tipId, pixelKey: tip.pixelKey, nearBits: tip.nearBits, nearSignature: tip.nearSignature })
      .from(brush)
      .innerJoin(tip, eq(tip.id, brush.tipId))
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, tipFrom)))
    if (!snapshot || !source) return undefined
    const { tipId, ...tipFacts } = source
    const frames = await listTipFrames(tx, workspaceId, tipId)
    const recipe = structuredClone(snapshot.recipe)
    // Rules over a grid count frames: with another number of them, one rule goes over all.
    const counted = recipe.path.nextFrame.reduce((product, rule) => product * rule.frames, 1)
    if (counted !== frames.length)
      recipe.path.nextFrame = [{ rule: recipe.path.nextFrame[0]?.rule ?? 'inOrder', frames: frames.length }]
    const [copy] = await insertBrushes(tx, workspaceId, [
      { ...snapshot, name, maker: maker ?? snapshot.maker, recipe, frames, ...tipFacts },
    ])
    if (copy === undefined) throw new Error('the copy was not inserted')
    await tx
      .update(brush)
      .set({ copiedFrom: { id, name: from.name, maker: from.maker } })
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, copy)))
    return copy
  })
}
