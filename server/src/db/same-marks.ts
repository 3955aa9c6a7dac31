import type { Difference } from '@satchel/core/alike/differences'
import { MARK_SIZE_BYTES, markArea } from '@satchel/core/alike/mark-bytes'
import type { PaintReading } from '@satchel/core/brush/recipe'
import type { SameKind } from '@satchel/core/same/kinds'
import { type SQL, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import type { ComparedTip } from './gather-duplicates.ts'
import { inParts } from './many.ts'
import { brush, brushVersion, comparedMark, keptBoth, marksApart, setItem, tip, tipFrame } from './schema/all.ts'

/** Names a mark: pixels, and the reading they are painted in. */
export const markOf = ({ pixelKey, reading }: { pixelKey: string; reading: string }) => `${pixelKey} ${reading}`

/** The brushes that are compared with one another: all but the bin, and what came with the product. */
const live = (workspaceId: string): SQL => sql`
  select b.id, b.name, b.frames, b.size_px, b.created_at, b.version, b.tip_id, b.reading,
    t.pixel_key || ' ' || b.reading as mark
  from ${brush} b join ${tip} t on t.id = b.tip_id
  where b.workspace_id = ${workspaceId} and b.deleted_at is null and not b.starter`

const known = (workspaceId: string): SQL => sql`select mark from ${comparedMark} where workspace_id = ${workspaceId}`

/** That a mark was never compared: asked by the index of marks, one by one. */
const isFresh = (workspaceId: string): SQL => sql`not exists (
  select 1 from ${comparedMark} c where c.workspace_id = ${workspaceId} and c.mark = l.mark)`

/** Whether any mark waits for its comparison. */
export async function hasFreshMarks(db: Db, workspaceId: string): Promise<boolean> {
  const { rows } = await db.execute(sql`select 1 from (${live(workspaceId)}) l
    where ${isFresh(workspaceId)} limit 1`)
  return rows.length > 0
}

export async function countFreshMarks(db: Db, workspaceId: string): Promise<number> {
  const { rows } = await db.execute<{ n: number }>(sql`select count(*)::int as n from (
    select mark from (${live(workspaceId)}) l except ${known(workspaceId)}) fresh`)
  return rows[0]?.n ?? 0
}

/**
 * Forgets the comparison of marks that no brush has any more, and of copies of such: these are compared anew. The lists are
 * taken apart as a whole; see `listGone` in `taken.ts`.
 */
export async function forgetGoneMarks(db: Db, workspaceId: string): Promise<void> {
  const mine = sql`workspace_id = ${workspaceId}`
  await db.execute(sql`delete from ${comparedMark} where ${mine} and mark in (
    ${known(workspaceId)} except select mark from (${live(workspaceId)}) l)`)
  await db.execute(sql`delete from ${comparedMark} where ${mine} and original in (
    select original from ${comparedMark} where ${mine} and original is not null
    except select mark from ${comparedMark} where ${mine} and original is null)`)
}

/** A tip whose mark waits, or is an original. */
export type MarkTip = ComparedTip & { frames: number; area: number }

type MarkRow = {
  mark_id: string
  pixel_key: string
  alike_key: Uint8Array | null
  size: Uint8Array | null
  name: string
  reading: PaintReading
  blob_sha: ComparedTip['blobSha']
  frames: number
}

/** Tips that are read at once: more would hold up others while they are parsed. */
const AT_ONCE = 1000

/**
 * One tip of each mark, the largest first, and of equally large ones the oldest.
 * @param which Those that were never compared, or those that are copies of no other.
 */
export async function listMarkTips(db: Db, workspaceId: string, which: 'fresh' | 'originals'): Promise<MarkTip[]> {
  const originals = sql`select mark from ${comparedMark} where workspace_id = ${workspaceId} and original is null`
  const those = which === 'fresh' ? isFresh(workspaceId) : sql`l.mark in (${originals})`
  const { rows: first } = await db.execute<{ id: string }>(sql`select id from (
    select distinct on (l.mark) l.id, l.created_at from (${live(workspaceId)}) l where ${those}
    order by l.mark, l.created_at, l.id) one order by created_at, id`)
  const tips: MarkTip[] = []
  for (let at = 0; at < first.length; at += AT_ONCE) {
    const some = first.slice(at, at + AT_ONCE).map(({ id }) => id)
    const { rows } = await db.execute<MarkRow>(sql`select t.id as mark_id, t.pixel_key, t.alike_key,
        substring(t.alike_mark for ${MARK_SIZE_BYTES}) as size, b.name, b.reading, f.blob_sha, b.frames
      from ${brush} b join ${tip} t on t.id = b.tip_id join ${tipFrame} f on f.tip_id = t.id and f.ordinal = 0
      where b.workspace_id = ${workspaceId} and b.id = any(${sql.param(some)}::uuid[])
      order by array_position(${sql.param(some)}::uuid[], b.id)`)
    for (const row of rows)
      tips.push({
        ...{ markId: row.mark_id, pixelKey: row.pixel_key, alikeKey: row.alike_key, name: row.name },
        ...{ reading: row.reading, blobSha: row.blob_sha, frames: row.frames },
        area: row.size ? markArea(row.size) : 0,
      })
  }
  return tips.sort((a, b) => b.area - a.area)
}

export type FoundMark = { mark: string; original: string | null; differs: Difference[] | null; isSeen: boolean }

/** Notes what comparing marks came to. */
export async function noteCompared(db: Db, workspaceId: string, found: readonly FoundMark[]): Promise<void> {
  for (const some of inParts(comparedMark, found))
    await db
      .insert(comparedMark)
      .values(some.map((each) => ({ workspaceId, ...each })))
      .onConflictDoUpdate({
        target: [comparedMark.workspaceId, comparedMark.mark],
        set: { original: sql`excluded.original`, differs: sql`excluded.differs`, isSeen: sql`excluded.is_seen` },
      })
}

/** Pairs of marks that were called not the same, either way round. */
export async function listApart(db: Db, workspaceId: string): Promise<Set<string>> {
  const { rows } = await db.execute<{ mark: string; original: string }>(
    sql`select mark, original from ${marksApart} where workspace_id = ${workspaceId}`,
  )
  return new Set(rows.flatMap(({ mark, original }) => [`${mark} | ${original}`, `${original} | ${mark}`]))
}

/** A brush of a group: which group, its place there, and how it stands to the first, which has no kind. */
export type Member = { root: string; id: string; kind: SameKind | null; isKept: boolean }

/**
 * All brushes whose marks are alike, group after group, the one that is shown first at the head of each: of the original's
 * pixels that which is used most, and of equally used ones the oldest.
 */
export async function listMembers(db: Db, workspaceId: string): Promise<Member[]> {
  const uses = sql`(select count(*) from ${setItem} i where i.brush_id = m.id)
    + (select count(*) from pocket_item i where i.brush_id = m.id)
    + (select count(*) from pack_brush i where i.brush_id = m.id and i.ordinal is not null)
    + (select count(*) from source_made i where i.brush_id = m.id)
    + (select count(*) from followed_part i where i.brush_id = m.id)`
  const recipe = sql`case when m.original is null then (select md5((v.snapshot -> 'recipe')::text) from ${brushVersion} v
    where v.brush_id = m.id and v.ordinal = m.version) end`
  const { rows } = await db.execute<Member>(sql`
    with rooted as materialized (
      select l.*, c.original, c.is_seen, coalesce(c.original, l.mark) as root from (${live(workspaceId)}) l
      join ${comparedMark} c on c.workspace_id = ${workspaceId} and c.mark = l.mark
    ), many as (select root, count(*) as n from rooted group by root having count(*) > 1),
    members as (select m.*, many.n, ${uses} as uses, ${recipe} as recipe from rooted m join many using (root)),
    placed as (
      select m.*, row_number() over w as place, first_value(m.recipe) over w as head_recipe from members m
      window w as (partition by m.root order by (m.original is not null), m.uses desc, m.created_at, m.id))
    select p.root, p.id, k.brush_id is not null as "isKept", case
      when p.place = 1 then null
      when p.original is null then case when p.recipe = p.head_recipe then 'whole' else 'picture' end
      else case when p.is_seen then 'shape' else 'mark' end end as kind
    from placed p left join ${keptBoth} k on k.brush_id = p.id and k.root = p.root
    order by p.n desc, p.root, p.place`)
  return rows
}

/** What a page of groups shows of each brush. */
export type MemberFacts = {
  id: string
  name: string
  maker: string
  frames: number
  sizePx: number
  reading: PaintReading
  blobSha: string
  width: number
  height: number
  version: number
  revision: string
  mark: string
  differs: Difference[] | null
}

export async function loadMemberFacts(db: Db, workspaceId: string, ids: readonly string[]): Promise<MemberFacts[]> {
  const { rows } =
    await db.execute<MemberFacts>(sql`select b.id, b.name, b.maker, b.frames, b.size_px as "sizePx", b.reading,
      f.blob_sha as "blobSha", f.width, f.height, b.version, date_part('epoch', b.updated_at)::text as revision,
      t.pixel_key || ' ' || b.reading as mark, c.differs
    from ${brush} b join ${tip} t on t.id = b.tip_id join ${tipFrame} f on f.tip_id = t.id and f.ordinal = 0
    left join ${comparedMark} c on c.workspace_id = ${workspaceId} and c.mark = t.pixel_key || ' ' || b.reading
    where b.workspace_id = ${workspaceId} and b.id = any(${sql.param(ids)}::uuid[])`)
  return rows
}

/** Keeps brushes beside the others of their mark. @returns Those that were not kept yet. */
export async function keepBeside(
  db: Db,
  workspaceId: string,
  wish: readonly { brushId: string; root: string }[],
): Promise<{ brushId: string; root: string }[]> {
  const added: { brushId: string; root: string }[] = []
  for (const some of inParts(keptBoth, wish))
    added.push(
      ...(await db
        .insert(keptBoth)
        .values(some.map((each) => ({ workspaceId, ...each })))
        .onConflictDoNothing()
        .returning({ brushId: keptBoth.brushId, root: keptBoth.root })),
    )
  return added
}

export const askAgain = (db: Db, workspaceId: string, kept: readonly { brushId: string; root: string }[]) =>
  db.execute(sql`delete from ${keptBoth} k using jsonb_to_recordset(${JSON.stringify(kept)}::jsonb) as p("brushId" uuid, root text)
    where k.workspace_id = ${workspaceId} and k.brush_id = p."brushId" and k.root = p.root`)

/** Tells marks apart: each is compared with the others anew. @returns The pairs that were not apart yet. */
export async function setApart(
  db: Db,
  workspaceId: string,
  pairs: readonly { mark: string; original: string }[],
): Promise<{ mark: string; original: string }[]> {
  const added = await db
    .insert(marksApart)
    .values(pairs.map((pair) => ({ workspaceId, ...pair })))
    .onConflictDoNothing()
    .returning({ mark: marksApart.mark, original: marksApart.original })
  await forgetMarks(
    db,
    workspaceId,
    pairs.map(({ mark }) => mark),
  )
  return added
}

export async function setTogether(
  db: Db,
  workspaceId: string,
  pairs: readonly { mark: string; original: string }[],
): Promise<void> {
  if (pairs.length === 0) return
  await db.execute(sql`delete from ${marksApart} a using jsonb_to_recordset(${JSON.stringify(pairs)}::jsonb)
      as p(mark text, original text)
    where a.workspace_id = ${workspaceId} and a.mark = p.mark and a.original = p.original`)
  await forgetMarks(
    db,
    workspaceId,
    pairs.map(({ mark }) => mark),
  )
}

const forgetMarks = (db: Db, workspaceId: string, marks: readonly string[]) =>
  db.execute(sql`delete from ${comparedMark} where workspace_id = ${workspaceId}
    and (mark = any(${sql.param(marks)}::text[]) or original = any(${sql.param(marks)}::text[]))`)
