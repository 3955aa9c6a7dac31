import { type Destination, parseDestination } from '@satchel/core/destinations/destination'
import type { Choices } from '@satchel/core/destinations/fit-state'
import { and, asc, count, desc, eq, inArray, isNull, or, sql } from 'drizzle-orm'
import { isCurrent } from './brushes.ts'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import {
  brush,
  brushVersion,
  destination,
  fitCell,
  fitChoice,
  material,
  rackSet,
  setItem,
  tipFrame,
} from './schema/all.ts'

export type FitCell = typeof fitCell.$inferSelect
export type OwnDestination = typeof destination.$inferSelect

const ofWorkspace = (workspaceId: string, id: string) =>
  and(eq(destination.workspaceId, workspaceId), eq(destination.id, id), isNull(destination.deletedAt))

export async function listDestinations(db: Db, workspaceId: string): Promise<OwnDestination[]> {
  const rows = await db
    .select()
    .from(destination)
    .where(and(eq(destination.workspaceId, workspaceId), isNull(destination.deletedAt)))
    .orderBy(asc(destination.createdAt), asc(destination.id))
  return rows.map(readStored)
}

/** What was described before a part of the recipe was there says nothing of it: it does not know that part. */
const readStored = (row: OwnDestination): OwnDestination => ({
  ...row,
  description: parseDestination(row.description),
})

export async function findDestination(db: Db, workspaceId: string, id: string): Promise<OwnDestination | undefined> {
  const [row] = await db.select().from(destination).where(ofWorkspace(workspaceId, id))
  return row && readStored(row)
}

export async function addDestination(db: Db, workspaceId: string, description: Destination): Promise<string> {
  const [row] = await db.insert(destination).values({ workspaceId, description }).returning({ id: destination.id })
  if (!row) throw new Error('the destination was not inserted')
  return row.id
}

/** @param from The version that the change was made on. @returns The new one; undefined where that is not the one there is. */
export async function changeDestination(
  db: Db,
  { workspaceId, id, from }: { workspaceId: string; id: string; from: number },
  description: Destination,
): Promise<number | undefined> {
  const [row] = await db
    .update(destination)
    .set({ description, version: from + 1, updatedAt: new Date() })
    .where(and(ofWorkspace(workspaceId, id), eq(destination.version, from)))
    .returning({ version: destination.version })
  return row?.version
}

/** Takes a destination away, and everything that was measured for it. */
export async function dropDestination(db: Db, workspaceId: string, id: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    const rows = await tx
      .update(destination)
      .set({ deletedAt: new Date() })
      .where(ofWorkspace(workspaceId, id))
      .returning({ id: destination.id })
    for (const table of [fitCell, fitChoice])
      await tx.delete(table).where(and(eq(table.workspaceId, workspaceId), eq(table.destinationId, id)))
    return rows.length > 0
  })
}

/** The set that a brush goes by: of several the first on the rack. */
async function findFirstSets(
  db: Db,
  workspaceId: string,
  brushIds: readonly string[],
): Promise<Map<string, { id: string; name: string }>> {
  const rows = await db
    .select({ brushId: setItem.brushId, id: rackSet.id, name: rackSet.name })
    .from(setItem)
    .innerJoin(rackSet, and(eq(rackSet.id, setItem.setId), isNull(rackSet.deletedAt)))
    .where(and(eq(setItem.workspaceId, workspaceId), isAnyOf(setItem.brushId, brushIds)))
    .orderBy(sql`${rackSet.position} collate "C"`)
  // the first of a brush counts, and comes last here
  return new Map(rows.reverse().map(({ brushId, ...set }) => [brushId, set]))
}

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

function groupBy<Row>(rows: readonly Row[], keyOf: (row: Row) => string): Map<string, Row[]> {
  const groups = new Map<string, Row[]>()
  for (const row of rows) {
    const group = groups.get(keyOf(row))
    if (group) group.push(row)
    else groups.set(keyOf(row), [row])
  }
  return groups
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

/** For whom something was answered: what is nearer to the brush counts more. */
export const CHOICE_SCOPES = ['all', 'set', 'brush'] as const
export type ChoiceScope = (typeof CHOICE_SCOPES)[number]
export type AnsweredChoices = { of: Record<ChoiceScope, Choices>; set: { id: string; name: string } | undefined }

/** What was answered for brushes, for the sets that they go by, and for all. */
export async function listAnswers(
  db: Db,
  workspaceId: string,
  destinationIds: readonly string[],
  brushIds: readonly string[],
): Promise<(brushId: string, destinationId: string) => AnsweredChoices> {
  const sets = await findFirstSets(db, workspaceId, brushIds)
  const setIds = [...sets.values()].map(({ id }) => id)
  const rows = await db
    .select()
    .from(fitChoice)
    .where(
      and(
        eq(fitChoice.workspaceId, workspaceId),
        inArray(fitChoice.destinationId, [...destinationIds]),
        or(
          and(isNull(fitChoice.brushId), isNull(fitChoice.setId)),
          isAnyOf(fitChoice.brushId, brushIds),
          isAnyOf(fitChoice.setId, setIds),
        ),
      ),
    )
  const byName = new Map(rows.map((row) => [nameOfChoice(row), row.choices]))
  return (brushId, destinationId) => {
    const set = sets.get(brushId)
    const find = (name: { brushId: string | null; setId: string | null }) =>
      byName.get(nameOfChoice({ destinationId, ...name })) ?? {}
    return {
      of: {
        all: find({ brushId: null, setId: null }),
        set: set ? find({ brushId: null, setId: set.id }) : {},
        brush: find({ brushId, setId: null }),
      },
      set,
    }
  }
}

const nameOfChoice = ({
  destinationId,
  brushId,
  setId,
}: {
  destinationId: string
  brushId: string | null
  setId: string | null
}) => `${destinationId} ${brushId ?? ''} ${setId ?? ''}`

/** The same taken together, as a plan goes by it. */
export async function listChoices(
  db: Db,
  workspaceId: string,
  destinationIds: readonly string[],
  brushIds: readonly string[],
): Promise<(brushId: string, destinationId: string) => Choices> {
  const answersOf = await listAnswers(db, workspaceId, destinationIds, brushIds)
  return (brushId, destinationId) => joinAnswers(answersOf(brushId, destinationId))
}

export const joinAnswers = ({ of }: AnsweredChoices): Choices =>
  Object.assign({}, ...CHOICE_SCOPES.map((scope) => of[scope]))

export async function saveChoices(
  db: Db,
  workspaceId: string,
  values: { destinationId: string; brushId: string | null; setId: string | null; choices: Choices },
): Promise<void> {
  await db
    .insert(fitChoice)
    .values({ workspaceId, ...values })
    .onConflictDoUpdate({
      target: [fitChoice.workspaceId, fitChoice.destinationId, fitChoice.brushId, fitChoice.setId],
      set: { choices: values.choices },
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
