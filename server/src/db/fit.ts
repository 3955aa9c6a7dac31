import { groupBy } from '@satchel/core/group-by'
import { and, asc, count, desc, eq, inArray, isNull, sql } from 'drizzle-orm'
import { isCurrent } from './brushes.ts'
import type { Db } from './database.ts'
import { findFirstSets } from './fit-choices.ts'
import { isAnyOf } from './many.ts'
import { brush, brushVersion, fitCell, material, tipFrame } from './schema/all.ts'

export type FitCell = typeof fitCell.$inferSelect

/** What of brushes goes to a destination: their recipes, and the names of their pictures. */
export async function listFitBrushes(db: Db, workspaceId: string, ids: readonly string[]) {
  if (ids.length === 0) return []
  const rows = await db
    .select({
      id: brush.id,
      name: brush.name,
      maker: brush.maker,
      licence: brush.licence,
      tipId: brush.tipId,
      snapshot: brushVersion.snapshot,
    })
    .from(brush)
    .innerJoin(brushVersion, isCurrent)
    .where(and(eq(brush.workspaceId, workspaceId), isAnyOf(brush.id, ids), isNull(brush.deletedAt)))
  const [frames, grains, sets] = await Promise.all([
    db
      .select({ tipId: tipFrame.tipId, blobSha: tipFrame.blobSha })
      .from(tipFrame)
      .where(
        and(
          eq(tipFrame.workspaceId, workspaceId),
          isAnyOf(
            tipFrame.tipId,
            rows.map(({ tipId }) => tipId),
          ),
        ),
      )
      .orderBy(tipFrame.ordinal),
    db
      .select({ pixelSha: material.pixelSha, blobSha: material.blobSha, name: material.name })
      .from(material)
      .where(
        and(
          eq(material.workspaceId, workspaceId),
          eq(material.kind, 'grain'),
          isAnyOf(
            material.pixelSha,
            rows.flatMap(({ snapshot }) => snapshot.recipe.ground.grain?.sha256 ?? []),
          ),
        ),
      ),
    findFirstSets(
      db,
      workspaceId,
      rows.map(({ id }) => id),
    ),
  ])
  const framesOf = groupBy(frames, (frame) => frame.tipId)
  const grainOf = new Map(grains.map((grain) => [grain.pixelSha, grain]))
  return rows.map(({ tipId, snapshot: { recipe }, ...row }) => ({
    ...row,
    recipe,
    set: sets.get(row.id)?.name ?? '',
    frames: (framesOf.get(tipId) ?? []).map(({ blobSha }) => blobSha),
    grain: recipe.ground.grain && grainOf.get(recipe.ground.grain.sha256),
  }))
}
export type StoredFitBrush = Awaited<ReturnType<typeof listFitBrushes>>[number]

export async function listCells(
  db: Db,
  workspaceId: string,
  brushIds: readonly string[],
  destinationIds: readonly string[],
) {
  return db
    .select()
    .from(fitCell)
    .where(
      and(
        eq(fitCell.workspaceId, workspaceId),
        isAnyOf(fitCell.brushId, brushIds),
        inArray(fitCell.destinationId, [...destinationIds]),
      ),
    )
}

/** How many files brushes would become at some destinations, as far as they were measured, and how many pairs were. */
export async function countFiles(
  db: Db,
  workspaceId: string,
  brushIds: readonly string[],
  destinationIds: readonly string[],
): Promise<{ files: number; measured: number }> {
  const [row] = await db
    .select({
      files: sql`coalesce(sum(jsonb_array_length(coalesce(${fitCell.result} -> 'files', '[]'))), 0)`.mapWith(Number),
      measured: count(),
    })
    .from(fitCell)
    .where(
      and(
        eq(fitCell.workspaceId, workspaceId),
        isAnyOf(fitCell.brushId, brushIds),
        inArray(fitCell.destinationId, [...destinationIds]),
      ),
    )
  return row ?? { files: 0, measured: 0 }
}

/** Keeps a cell; of a brush that has gone for good meanwhile there is nothing to keep. */
export async function saveCell(db: Db, cell: Omit<typeof fitCell.$inferInsert, 'measuredAt'>): Promise<void> {
  const { workspaceId, brushId, key, score, leftCount, result } = cell
  await db.transaction(async (tx) => {
    const [there] = await tx
      .select({ id: brush.id })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.id, brushId)))
      .for('key share')
    if (!there) return
    await tx
      .insert(fitCell)
      .values(cell)
      .onConflictDoUpdate({
        target: [fitCell.brushId, fitCell.destinationId],
        set: { key, score, leftCount, result, measuredAt: new Date() },
      })
  })
}

/** In which order the brushes of the matrix come, and which of them. */
export type FitOrder = { by?: string | undefined; worst: boolean; find: string; onlyLeft: boolean }

/** A page of the matrix's brushes, and how many there are in all. */
export async function pageFitBrushes(
  db: Db,
  workspaceId: string,
  { by, worst, find, onlyLeft }: FitOrder,
  { from, limit }: { from: number; limit: number },
) {
  const here = and(
    eq(brush.workspaceId, workspaceId),
    isNull(brush.deletedAt),
    eq(brush.starter, false),
    find === '' ? undefined : sql`strpos(lower(${brush.name}), lower(${find})) > 0`,
    onlyLeft ? sql`${fitCell.leftCount} > 0` : undefined,
  )
  const cell = and(eq(fitCell.brushId, brush.id), eq(fitCell.destinationId, by ?? ''))
  const score = worst ? sql`${fitCell.score} asc nulls last` : sql`${fitCell.score} desc nulls last`
  const [rows, [all]] = await Promise.all([
    db
      .select({
        id: brush.id,
        name: brush.name,
        maker: brush.maker,
        behaviour: brush.behaviour,
        version: brush.version,
      })
      .from(brush)
      .leftJoin(fitCell, cell)
      .where(here)
      .orderBy(...(by === undefined ? [] : [score]), sql`lower(${brush.name})`, asc(brush.id))
      .offset(from)
      .limit(limit),
    db.select({ n: count() }).from(brush).leftJoin(fitCell, cell).where(here),
  ])
  return { brushes: rows, total: all?.n ?? 0 }
}

/** Every brush of the library by its id, for what goes over all of them. */
export async function listAllBrushIds(db: Db, workspaceId: string): Promise<string[]> {
  const rows = await db
    .select({ id: brush.id })
    .from(brush)
    .where(and(eq(brush.workspaceId, workspaceId), isNull(brush.deletedAt), eq(brush.starter, false)))
    .orderBy(desc(brush.updatedAt), asc(brush.id))
  return rows.map(({ id }) => id)
}
