import { joinKeys } from '@satchel/core/alike/alike-print'
import type { Likeness } from '@satchel/core/looks/like-mark'
import type { Db } from '../db/database.ts'
import {
  findPrint,
  findSignature,
  type Keyed,
  listKeptMarks,
  listMarkKeys,
  listSignatures,
  type Signed,
} from '../db/stroke-looks.ts'
import type { Deps } from '../deps.ts'
import { Problem } from '../errors.ts'

/** By what brushes are like one another: their marks, or the strokes that they paint. */
export const LIKE_BY = ['mark', 'stroke'] as const
export type LikeBy = (typeof LIKE_BY)[number]

/** What is looked for: a brush of the library, or somebody's picture. */
export type Wanted = { brushId: string } | { bytes: Uint8Array }

export type Like = { id: string; likeness: number }

/** Rows that are read and compared at once: more would hold up others while they are parsed. */
const AT_ONCE = 4000
/** Brushes that are told, and marks that are looked at closely for that. */
const SHOWN_MAX = 60
const CLOSE_MAX = 400
const FIRST_ID = '00000000-0000-0000-0000-000000000000'

type Search = (deps: Deps, workspaceId: string, wanted: Wanted) => Promise<Like[]>

const BY: Record<LikeBy, Search> = { mark: findByMark, stroke: findByStroke }

/**
 * Brushes of the library that look most like something, the best first.
 * @throws {Problem} 404 where the brush is gone, 422 where nothing is painted there that could be looked for.
 */
export async function findLike(deps: Deps, workspaceId: string, by: LikeBy, wanted: Wanted): Promise<Like[]> {
  const found = await BY[by](deps, workspaceId, wanted)
  return found.filter(({ id }) => !('brushId' in wanted) || id !== wanted.brushId).slice(0, SHOWN_MAX)
}

/** All of a library in parts, each after the one before. */
async function* inPartsOf<Row extends { id: string }>(
  list: (db: Db, workspaceId: string, after: string, most: number) => Promise<Row[]>,
  db: Db,
  workspaceId: string,
): AsyncGenerator<Row[]> {
  for (let after = FIRST_ID; ; ) {
    const rows = await list(db, workspaceId, after, AT_ONCE)
    if (rows.length > 0) yield rows
    const last = rows.at(-1)
    if (!last || rows.length < AT_ONCE) return
    after = last.id
  }
}

async function findByMark(deps: Deps, workspaceId: string, wanted: Wanted): Promise<Like[]> {
  const { db, workers } = deps
  const prints =
    'bytes' in wanted ? await printPicture(deps, wanted.bytes) : [await printOf(db, workspaceId, wanted.brushId)]
  const keys = prints.map(({ key }) => key)
  let near: { id: string; distance: number }[] = []
  for await (const rows of inPartsOf<Keyed>(listMarkKeys, db, workspaceId)) {
    const found = await workers.run('nearestMarks', {
      wanted: keys,
      keys: joinKeys(rows.map(({ key }) => key)),
      most: CLOSE_MAX,
    })
    near.push(...found.flatMap(({ at, distance }) => idAt(rows, at, (id) => ({ id, distance }))))
    near = near.sort((a, b) => a.distance - b.distance).slice(0, CLOSE_MAX)
  }
  const marks = await listKeptMarks(
    db,
    workspaceId,
    near.map(({ id }) => id),
  )
  const likes = await workers.run('markLikeness', {
    wanted: prints.map(({ mark }) => mark),
    candidates: marks.map(({ mark }) => mark),
  })
  return toLikes(marks, likes)
}

async function findByStroke(deps: Deps, workspaceId: string, wanted: Wanted): Promise<Like[]> {
  const { db, workers } = deps
  const signature =
    'bytes' in wanted ? await signPicture(deps, wanted.bytes) : await signatureOf(db, workspaceId, wanted.brushId)
  const best: Like[] = []
  for await (const rows of inPartsOf<Signed>(listSignatures, db, workspaceId)) {
    const likes = await workers.run('strokeLikeness', {
      wanted: signature,
      candidates: rows.map((row) => row.signature),
      most: SHOWN_MAX + 1,
    })
    best.push(...toLikes(rows, likes))
  }
  return best.sort((a, b) => b.likeness - a.likeness)
}

const idAt = <Out>(rows: readonly { id: string }[], at: number, make: (id: string) => Out): Out[] => {
  const row = rows[at]
  return row ? [make(row.id)] : []
}

const toLikes = (rows: readonly { id: string }[], likes: readonly Likeness[]): Like[] =>
  likes.flatMap(({ at, likeness }) => idAt(rows, at, (id) => ({ id, likeness: Math.round(likeness) })))

async function printOf(db: Db, workspaceId: string, brushId: string) {
  const print = await findPrint(db, workspaceId, brushId)
  if (!print) throw new Problem(422, 'This brush has no mark that could be looked for; choose another one.')
  return print
}

async function signatureOf(db: Db, workspaceId: string, brushId: string) {
  const signature = await findSignature(db, workspaceId, brushId)
  if (!signature)
    throw new Problem(422, 'The stroke of this brush was not measured yet, or paints nothing; try again in a moment.')
  return signature
}

async function printPicture({ workers }: Deps, bytes: Uint8Array) {
  const read = await workers.run('printPicture', { bytes })
  if ('refused' in read) throw new Problem(422, read.refused)
  if (read.prints.length === 0) throw new Problem(422, 'Nothing is painted there; draw or choose something that is.')
  return read.prints
}

async function signPicture({ workers }: Deps, bytes: Uint8Array) {
  const read = await workers.run('signPicture', { bytes })
  if ('refused' in read) throw new Problem(422, read.refused)
  if (!read.signature)
    throw new Problem(422, 'No stroke was found there; it is to be longer than it is wide, and to lie alone.')
  return read.signature
}
