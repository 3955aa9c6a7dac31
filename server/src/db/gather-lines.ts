import type { PictureUse } from '@satchel/core/grain/picture-use'
import { HEAVY_TIP_SIDE_PX } from '@satchel/core/limits'
import type { Decision } from '@satchel/core/newer/merge'
import { and, asc, count, eq, ne, type SQL, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import type { GatherLine, NewGatherLine } from './gathers.ts'
import { inParts, isAnyOf } from './many.ts'
import { gatherLine } from './schema/all.ts'
import type { StoredFrame } from './schema/library.ts'

/** The ledger's lines in the order they are shown: by folder, then path. An index has them so. */
export const lineOrder = [
  sql`${gatherLine.folder} collate "natural_order"`,
  sql`${gatherLine.path} collate "natural_order"`,
  asc(gatherLine.ordinal),
  asc(gatherLine.id),
]

const isBrush = sql`jsonb_array_length(${gatherLine.frames}) > 0`
const isPicture = sql`(jsonb_array_length(${gatherLine.frames}) = 1 and ${gatherLine.kind} not in ('pack', 'settings'))`

/** Lines that can be decided on together, by what they are. */
export const LINE_GROUPS = {
  /** To be taken, and like their originals in all that a painter sees. */
  same: sql`${gatherLine.outcome} = 'take' and ${gatherLine.duplicate} ->> 'same' = 'true'`,
  /** Skipped, as the pixels are there already. */
  copies: sql`${gatherLine.outcome} = 'skip' and ${gatherLine.duplicate} is not null`,
  /** Larger than is quick to paint with. */
  heavy: sql`${isBrush} and ${gatherLine.fullFrames} is null
    and greatest(${gatherLine.width}, ${gatherLine.height}) > ${HEAVY_TIP_SIDE_PX}`,
  /** Single pictures, which may be tip, grain or strip. */
  pictures: isPicture,
  /** Newer than brushes that were changed here, too. */
  joined: sql`${gatherLine.taken} ->> 'standing' in ('joins', 'open')`,
} as const satisfies Record<string, SQL>
export type LineGroup = keyof typeof LINE_GROUPS

/** Lines of a ledger: those named, or of a folder, or of a group; all where nothing narrows them. */
export type LineChoice = { ids?: string[] | undefined; folder?: string | undefined; group?: LineGroup | undefined }

const isChosen = (workspaceId: string, gatherId: string, { ids, folder, group }: LineChoice) =>
  and(
    eq(gatherLine.workspaceId, workspaceId),
    eq(gatherLine.gatherId, gatherId),
    ids ? isAnyOf(gatherLine.id, ids) : undefined,
    folder === undefined ? undefined : eq(gatherLine.folder, folder),
    group && LINE_GROUPS[group],
  )

export async function addGatherLines(db: Db, lines: NewGatherLine[]): Promise<void> {
  for (const some of inParts(gatherLine, lines)) await db.insert(gatherLine).values(some)
}

/** A page of a ledger. @param from The first line, counted from 0. */
export async function listGatherLines(
  db: Db,
  workspaceId: string,
  gatherId: string,
  { from, limit, ...choice }: LineChoice & { from: number; limit: number },
) {
  const page = db
    .select({ id: gatherLine.id })
    .from(gatherLine)
    .where(isChosen(workspaceId, gatherId, choice))
    .orderBy(...lineOrder)
    .offset(from)
    .limit(limit)
  return db
    .select({
      id: gatherLine.id,
      folder: gatherLine.folder,
      path: gatherLine.path,
      name: gatherLine.name,
      kind: gatherLine.kind,
      outcome: gatherLine.outcome,
      reason: gatherLine.reason,
      width: gatherLine.width,
      height: gatherLine.height,
      frames: sql<number>`jsonb_array_length(${gatherLine.frames})`.mapWith(Number),
      picture: sql<string | null>`${gatherLine.frames} -> 0 ->> 'blobSha'`,
      reading: sql<string | null>`${gatherLine.brush} -> 'recipe' -> 'colour' ->> 'reading'`,
      shrunk: sql<boolean>`${gatherLine.fullFrames} is not null`,
      setName: gatherLine.setName,
      use: gatherLine.use,
      seamAcross: gatherLine.seamAcross,
      seamDown: gatherLine.seamDown,
      grainName: sql<string | null>`${gatherLine.grain} ->> 'name'`,
      duplicate: gatherLine.duplicate,
      taken: gatherLine.taken,
      decision: gatherLine.decision,
    })
    .from(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), sql`${gatherLine.id} in ${page}`))
    .orderBy(...lineOrder)
}

/** What is counted of a ledger's lines. */
const COUNTS = {
  lines: sql`true`,
  pictures: LINE_GROUPS.pictures,
  take: sql`${gatherLine.outcome} = 'take'`,
  skip: sql`${gatherLine.outcome} = 'skip'`,
  refuse: sql`${gatherLine.outcome} = 'refuse'`,
  grains: sql`${gatherLine.outcome} = 'take' and ${gatherLine.use} = 'grain'`,
  same: LINE_GROUPS.same,
  copies: LINE_GROUPS.copies,
  heavy: LINE_GROUPS.heavy,
  /** Settings that lead to no picture, or to no grain. */
  loose: sql`${gatherLine.settings} is not null and jsonb_array_length(${gatherLine.frames}) = 0`,
} as const satisfies Record<string, SQL>
type Counts = Record<keyof typeof COUNTS, number>
const eachCount = <Value>(toValue: (count: keyof typeof COUNTS) => Value) =>
  Object.fromEntries(Object.keys(COUNTS).map((name) => [name, toValue(name as keyof typeof COUNTS)])) as Record<
    keyof typeof COUNTS,
    Value
  >

/** What a ledger comes to, folder by folder in the order of the lines: the lines are walked once, which takes the time. */
export function countGatherLines(
  db: Db,
  workspaceId: string,
  gatherId: string,
): Promise<({ folder: string } & Counts)[]> {
  const counts = eachCount((name) => sql<number>`count(*) filter (where ${COUNTS[name]})`.mapWith(Number))
  return db
    .select({ folder: gatherLine.folder, ...counts })
    .from(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId)))
    .groupBy(gatherLine.folder)
    .orderBy(sql`${gatherLine.folder} collate "natural_order"`)
}

/** What lines come to in all folders together. */
export const sumCounts = (folders: readonly Counts[]): Counts =>
  eachCount((name) => folders.reduce((sum, each) => sum + each[name], 0))

/** Whole lines, for taking in and for smaller copies. */
export async function loadGatherLines(
  db: Db,
  workspaceId: string,
  gatherId: string,
  choice: LineChoice = {},
): Promise<GatherLine[]> {
  return db
    .select()
    .from(gatherLine)
    .where(isChosen(workspaceId, gatherId, choice))
    .orderBy(...lineOrder)
}

export async function findGatherLine(db: Db, workspaceId: string, id: string): Promise<GatherLine | undefined> {
  const [row] = await db
    .select()
    .from(gatherLine)
    .where(and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.id, id)))
  return row
}

/** The ids of chosen lines, in order. */
export async function listLineIds(
  db: Db,
  workspaceId: string,
  gatherId: string,
  choice: LineChoice,
): Promise<string[]> {
  const rows = await db
    .select({ id: gatherLine.id })
    .from(gatherLine)
    .where(isChosen(workspaceId, gatherId, choice))
    .orderBy(...lineOrder)
  return rows.map(({ id }) => id)
}

/** The name of a chosen line that is a whole brush, if there is one. */
export async function findWholeBrush(
  db: Db,
  workspaceId: string,
  gatherId: string,
  choice: LineChoice,
): Promise<string | undefined> {
  const [row] = await db
    .select({ name: gatherLine.name })
    .from(gatherLine)
    .where(and(isChosen(workspaceId, gatherId, choice), isBrush, sql`not ${isPicture}`))
    .limit(1)
  return row?.name
}

/** The curator's decision on lines that hold a brush. @returns How many changed. */
export async function decideGatherLines(
  db: Db,
  { workspaceId, gatherId, choice }: { workspaceId: string; gatherId: string; choice: LineChoice },
  change: {
    outcome?: 'take' | 'skip' | undefined
    setName?: string | undefined
    name?: string | undefined
    use?: PictureUse | undefined
    decision?: Decision | undefined
  },
): Promise<number> {
  const { rowCount } = await db
    .update(gatherLine)
    .set({ ...change, ...(change.outcome ? { decided: true } : {}) })
    .where(and(isChosen(workspaceId, gatherId, choice), isBrush, ne(gatherLine.outcome, 'refuse')))
  return rowCount ?? 0
}

/**
 * Puts other frames in the place of a line's own: a smaller copy, with `fullFrames` kept for later, or the full ones.
 * @returns Whether the line was still there; it is locked until the transaction ends.
 */
export async function setLineFrames(
  db: Db,
  line: { workspaceId: string; id: string },
  change: { frames: StoredFrame[]; fullFrames: StoredFrame[] | null; pixelKey: string },
): Promise<boolean> {
  const [first] = change.frames
  const changed = await db
    .update(gatherLine)
    .set({ ...change, width: first?.width ?? 0, height: first?.height ?? 0 })
    .where(and(eq(gatherLine.workspaceId, line.workspaceId), eq(gatherLine.id, line.id)))
    .returning({ id: gatherLine.id })
  return changed.length > 0
}

/** How many lines of a ledger are to be taken in. */
export async function countTaken(db: Db, workspaceId: string, gatherId: string): Promise<number> {
  const [row] = await db
    .select({ n: count() })
    .from(gatherLine)
    .where(
      and(eq(gatherLine.workspaceId, workspaceId), eq(gatherLine.gatherId, gatherId), eq(gatherLine.outcome, 'take')),
    )
  return row?.n ?? 0
}
