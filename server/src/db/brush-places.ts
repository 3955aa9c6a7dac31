import { groupBy } from '@satchel/core/group-by'
import type { Move, Place, Return } from '@satchel/core/same/places'
import { type SQL, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import type { PlaceKind, StoredMove } from './schema/acts.ts'
import {
  brush,
  followedPart,
  install,
  pack,
  packBrush,
  pocket,
  pocketItem,
  rackSet,
  setItem,
  sourceMade,
} from './schema/all.ts'

/** A place with what else its row holds. */
export type StoredPlace = Place & { row: StoredMove['row'] }

/** How one kind of place is read and changed. Every statement takes rows of any number as one parameter. */
type Kind = {
  /** All places of some brushes, in the order of their lists. */
  load: (db: Db, workspaceId: string, brushIds: readonly string[]) => Promise<StoredPlace[]>
  /** Puts other brushes into places. */
  put: (
    db: Db,
    workspaceId: string,
    moves: readonly (StoredMove & { to: string })[],
    isBack: boolean,
  ) => Promise<unknown>
  /** Takes places away whose lists hold the other brush already. */
  takeAway: (db: Db, workspaceId: string, places: readonly StoredPlace[]) => Promise<unknown>
  /** Puts places up again, as far as their lists are still there. */
  putUp: (db: Db, workspaceId: string, places: readonly StoredPlace[]) => Promise<unknown>
}

/** Rows of places as a table of a statement. */
const asTable = (places: readonly object[]): SQL => sql`jsonb_to_recordset(${JSON.stringify(places)}::jsonb)
  as p(id text, list uuid, slot text, brush uuid, "to" uuid, "row" jsonb)`
const ids = (brushIds: readonly string[]): SQL => sql`any(${sql.param(brushIds)}::uuid[])`
const rowsOf = async (db: Db, query: SQL): Promise<StoredPlace[]> =>
  (await db.execute<StoredPlace>(query)).rows.map(({ id, list, slot, brush, row }) => ({ id, list, slot, brush, row }))

/** Leaves of places in packs what is said of their brushes. */
const noteOnly = (db: Db, workspaceId: string, places: readonly Place[]) =>
  db.execute(sql`update ${packBrush} i set ordinal = null from ${asTable(places)}
    where i.workspace_id = ${workspaceId} and i.pack_id = p.list and i.brush_id = p.brush`)

/** Places that are parts of something, one brush each. @param list The column that says of what. */
const partsOf = (table: typeof sourceMade | typeof followedPart, list: 'source_id' | 'file_id'): Kind => ({
  load: (db, workspaceId, brushIds) =>
    rowsOf(
      db,
      sql`select id, ${sql.identifier(list)} as list, part as slot, brush_id as brush, '{}'::jsonb as "row" from ${table}
        where workspace_id = ${workspaceId} and brush_id = ${ids(brushIds)} order by ${sql.identifier(list)}, part`,
    ),
  put: (db, workspaceId, moves) =>
    db.execute(sql`update ${table} i set brush_id = p."to" from ${asTable(moves)}
        where i.workspace_id = ${workspaceId} and i.id = p.id::uuid`),
  // a part is one thing: no brush stands there twice, so none is ever taken away
  takeAway: async () => undefined,
  putUp: async () => undefined,
})

export const PLACES: { [Name in PlaceKind]: Kind } = {
  set: {
    load: (db, workspaceId, brushIds) =>
      rowsOf(
        db,
        sql`select set_id || ' ' || position as id, set_id as list, '' as slot, brush_id as brush,
          jsonb_build_object('position', position) as "row" from ${setItem}
        where workspace_id = ${workspaceId} and brush_id = ${ids(brushIds)} order by set_id, position collate "C", brush_id`,
      ),
    put: (db, workspaceId, moves) =>
      db.execute(sql`update ${setItem} i set brush_id = p."to" from ${asTable(moves)}
        where i.workspace_id = ${workspaceId} and i.set_id = p.list and i.brush_id = p.brush`),
    takeAway: (db, workspaceId, places) =>
      db.execute(sql`delete from ${setItem} i using ${asTable(places)}
        where i.workspace_id = ${workspaceId} and i.set_id = p.list and i.brush_id = p.brush`),
    putUp: (db, workspaceId, places) =>
      db.execute(sql`insert into ${setItem} (workspace_id, set_id, brush_id, position)
        select s.workspace_id, p.list, p.brush, p."row" ->> 'position' from ${asTable(places)}
        join ${rackSet} s on s.id = p.list and s.workspace_id = ${workspaceId} on conflict do nothing`),
  },
  pocket: {
    load: (db, workspaceId, brushIds) =>
      rowsOf(
        db,
        sql`select id, pocket_id as list, size_px::text as slot, brush_id as brush,
          jsonb_build_object('position', position, 'label', label, 'sizePx', size_px) as "row" from ${pocketItem}
        where workspace_id = ${workspaceId} and brush_id = ${ids(brushIds)} order by pocket_id, position collate "C"`,
      ),
    put: (db, workspaceId, moves) =>
      db.execute(sql`update ${pocketItem} i set brush_id = p."to" from ${asTable(moves)}
        where i.workspace_id = ${workspaceId} and i.id = p.id::uuid`),
    takeAway: (db, workspaceId, places) =>
      db.execute(sql`delete from ${pocketItem} i using ${asTable(places)}
        where i.workspace_id = ${workspaceId} and i.id = p.id::uuid`),
    putUp: (db, workspaceId, places) =>
      db.execute(sql`insert into ${pocketItem} (id, workspace_id, pocket_id, brush_id, size_px, label, position)
        select p.id::uuid, s.workspace_id, p.list, p.brush, (p."row" ->> 'sizePx')::real, p."row" ->> 'label',
          p."row" ->> 'position'
        from ${asTable(places)} join ${pocket} s on s.id = p.list and s.workspace_id = ${workspaceId} on conflict do nothing`),
  },
  pack: {
    load: (db, workspaceId, brushIds) =>
      rowsOf(
        db,
        sql`select pack_id || ' ' || ordinal as id, pack_id as list, '' as slot, brush_id as brush,
          jsonb_build_object('ordinal', ordinal) as "row" from ${packBrush}
        where workspace_id = ${workspaceId} and brush_id = ${ids(brushIds)} and ordinal is not null order by pack_id, ordinal`,
      ),
    // a note stays with the brush that it is about, and goes along where the other one has none
    put: async (db, workspaceId, moves, isBack) => {
      await db.execute(sql`insert into ${packBrush} as other (workspace_id, pack_id, brush_id, ordinal, note)
        select i.workspace_id, i.pack_id, p."to", i.ordinal, i.note from ${asTable(moves)}
        join ${packBrush} i on i.workspace_id = ${workspaceId} and i.pack_id = p.list and i.brush_id = p.brush
        on conflict (pack_id, brush_id) do update set ordinal = excluded.ordinal`)
      if (isBack)
        await db.execute(sql`delete from ${packBrush} i using ${asTable(moves)}
          join ${packBrush} t on t.pack_id = p.list and t.brush_id = p."to"
          where i.workspace_id = ${workspaceId} and i.pack_id = p.list and i.brush_id = p.brush
            and i.note = t.note and i.looked is null`)
      await noteOnly(db, workspaceId, moves)
    },
    takeAway: (db, workspaceId, places) => noteOnly(db, workspaceId, places),
    putUp: (db, workspaceId, places) =>
      db.execute(sql`insert into ${packBrush} (workspace_id, pack_id, brush_id, ordinal)
        select s.workspace_id, p.list, p.brush, (p."row" ->> 'ordinal')::integer from ${asTable(places)}
        join ${pack} s on s.id = p.list and s.workspace_id = ${workspaceId}
        on conflict (pack_id, brush_id) do update set ordinal = excluded.ordinal`),
  },
  source: partsOf(sourceMade, 'source_id'),
  followed: partsOf(followedPart, 'file_id'),
  install: {
    // of releases, and while their files are written, installs stay as they are
    load: (db, workspaceId, brushIds) =>
      rowsOf(
        db,
        sql`select i.id || ' ' || b.at as id, i.id as list, '' as slot, b.id as brush, '{}'::jsonb as "row"
        from ${install} i cross join unnest(i.brush_ids) with ordinality as b(id, at)
        where i.workspace_id = ${workspaceId} and i.state = 'in' and i.release_id is null and b.id = ${ids(brushIds)}
        order by i.id, b.at`,
      ),
    put: (db, workspaceId, moves) =>
      db.execute(sql`update ${install} i set brush_ids = (
          select array_agg(coalesce(p."to", b.id) order by b.at) from unnest(i.brush_ids) with ordinality as b(id, at)
          left join ${asTable(moves)} on p.list = i.id and p.brush = b.id)
        where i.workspace_id = ${workspaceId} and i.id = ${ids([...new Set(moves.map(({ list }) => list))])}`),
    takeAway: (db, workspaceId, places) =>
      db.execute(sql`update ${install} i set brush_ids = array(
          select b.id from unnest(i.brush_ids) with ordinality as b(id, at)
          where (i.id, b.id) not in (select p.list, p.brush from ${asTable(places)}) order by b.at)
        where i.workspace_id = ${workspaceId} and i.id = ${ids([...new Set(places.map(({ list }) => list))])}`),
    putUp: (db, workspaceId, places) =>
      db.execute(sql`update ${install} i set brush_ids = i.brush_ids || array(
          select p.brush from ${asTable(places)} where p.list = i.id and p.brush <> all(i.brush_ids))
        where i.workspace_id = ${workspaceId} and i.id = ${ids([...new Set(places.map(({ list }) => list))])}`),
  },
}

const withRows = <P extends Place>(places: readonly P[], rows: ReadonlyMap<string, StoredPlace['row']>) =>
  places.map((place) => ({ ...place, row: rows.get(`${place.list} ${place.id}`) ?? {} }))

/** Carries moves out in the order in which none meets another: what is taken away goes first. */
export async function carryOutMoves(
  db: Db,
  workspaceId: string,
  kind: PlaceKind,
  moves: readonly StoredMove[],
  isBack = false,
): Promise<void> {
  const { put, takeAway } = PLACES[kind]
  const gone = moves.filter(({ to }) => to === null)
  const staying = moves.flatMap((move) => (move.to === null ? [] : [{ ...move, to: move.to }]))
  if (gone.length > 0) await takeAway(db, workspaceId, gone)
  if (staying.length > 0) await put(db, workspaceId, staying, isBack)
}

/** Takes moves back as it was planned. */
export async function carryOutReturn(
  db: Db,
  workspaceId: string,
  kind: PlaceKind,
  moves: readonly StoredMove[],
  { back, again }: Return,
): Promise<void> {
  const rows = new Map(moves.map(({ list, id, row }) => [`${list} ${id}`, row]))
  await carryOutMoves(db, workspaceId, kind, withRows(back, rows), true)
  if (again.length > 0) await PLACES[kind].putUp(db, workspaceId, withRows(again, rows))
}

/** Moves with the rows of their places. */
export const storedMoves = (places: readonly StoredPlace[], moves: readonly Move[]): StoredMove[] => {
  const rows = new Map(places.map(({ list, id, row }) => [`${list} ${id}`, row]))
  return withRows(moves, rows)
}

/** Which of some brushes are still there, in the bin or not. */
export async function listBrushesThere(db: Db, workspaceId: string, brushIds: readonly string[]): Promise<Set<string>> {
  const { rows } = await db.execute<{ id: string }>(
    sql`select id from ${brush} where workspace_id = ${workspaceId} and id = ${ids(brushIds)}`,
  )
  return new Set(rows.map(({ id }) => id))
}

/** What brushes are used in, by kinds: how often, and the first names. */
export type Uses = { [Name in PlaceKind]?: { count: number; names: string[] } }

const NAMES_SAID = 3
const NAMED: { [Name in PlaceKind]: SQL } = {
  set: sql`select i.brush_id, s.name from ${setItem} i join ${rackSet} s on s.id = i.set_id and s.deleted_at is null`,
  pocket: sql`select i.brush_id, s.name from ${pocketItem} i join ${pocket} s on s.id = i.pocket_id and s.deleted_at is null`,
  pack: sql`select i.brush_id, s.title as name from ${packBrush} i join ${pack} s on s.id = i.pack_id and s.deleted_at is null
    and i.ordinal is not null`,
  source: sql`select i.brush_id, s.name from ${sourceMade} i join source s on s.id = i.source_id and s.deleted_at is null`,
  followed: sql`select i.brush_id, s.path as name from ${followedPart} i join followed_file s on s.id = i.file_id`,
  install: sql`select b.id as brush_id, s.name from ${install} s cross join unnest(s.brush_ids) as b(id) where s.state = 'in'`,
}

export async function listUses(db: Db, workspaceId: string, brushIds: readonly string[]): Promise<Map<string, Uses>> {
  const each = (Object.entries(NAMED) as [PlaceKind, SQL][]).map(
    ([kind, query]) => sql`select ${kind}::text as kind, u.brush_id as brush, u.name from (${query}) u
      join ${brush} b on b.id = u.brush_id where b.workspace_id = ${workspaceId} and u.brush_id = ${ids(brushIds)}`,
  )
  const { rows } = await db.execute<{ kind: PlaceKind; brush: string; name: string }>(
    sql`${sql.join(each, sql` union all `)} order by 1, 3`,
  )
  return new Map(
    [...groupBy(rows, (row) => row.brush)].map(([id, uses]) => [
      id,
      Object.fromEntries(
        [...groupBy(uses, ({ kind }) => kind)].map(([kind, some]) => [
          kind,
          { count: some.length, names: some.slice(0, NAMES_SAID).map(({ name }) => name) },
        ]),
      ),
    ]),
  )
}
