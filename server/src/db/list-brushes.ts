import type { BrushFilter } from '@satchel/core/forms/brush-filter'
import { type BrushIs, type BrushSort, isLookSort } from '@satchel/core/forms/brush-filter-words'
import type pg from 'pg'
import { LANDMARK_LINES, type Landmark, type ListLandmarks } from './list-landmarks.ts'
import { findRarest, type Rarest, type SearchTerm, toTerms } from './search-words.ts'

/** What a list shows of a brush. */
export type BrushLine = {
  id: string
  name: string
  maker: string
  tags: string[]
  reading: string
  behaviour: string
  frames: number
  version: number
  sizePx: number
  /** Changes with every change of the brush; names its pictures. */
  revision: string
}

/** Between the tags of one line; no name may hold it. */
const TAG_END = '\u001f'

const COLUMNS = `brush.id, brush.name, brush.maker, array_to_string(brush.tags, '${TAG_END}'), brush.reading, brush.behaviour,
  brush.frames, brush.version, brush.size_px, date_part('epoch', brush.updated_at)::text`

/** What a list is ordered by: expressions with their types, the last of them unlike for any two lines. */
type Order = { keys: readonly (readonly [expression: string, type: string])[]; down?: boolean | undefined }

const ORDERS = {
  name: { keys: [['lower(brush.name)', 'text'], ['brush.id', 'uuid']] },
  newest: { keys: [['brush.created_at', 'timestamptz'], ['brush.id', 'uuid']], down: true },
  size: { keys: [['brush.size_px', 'real'], ['brush.id', 'uuid']] },
  set: { keys: [['set_item.position collate "C"', 'text'], ['brush.id', 'uuid']] },
  darkness: { keys: [['stroke_look.darkness', 'real'], ['stroke_look.brush_id', 'uuid']] },
  width: { keys: [['stroke_look.width_px', 'real'], ['stroke_look.brush_id', 'uuid']] },
  roughness: { keys: [['stroke_look.roughness', 'real'], ['stroke_look.brush_id', 'uuid']] },
} as const satisfies Record<BrushSort, Order> // biome-ignore format: one line a sort

/** Every brush has a row of its look: what was not measured lies at infinity. */
const withLooks = (sort: BrushSort): string =>
  isLookSort(sort)
    ? ' join stroke_look on stroke_look.brush_id = brush.id and stroke_look.workspace_id = brush.workspace_id'
    : ''

const orderOf = (sort: BrushSort, filter: BrushFilter): Order => ORDERS[sort === 'set' && !filter.setId ? 'name' : sort]
const orderBy = ({ keys, down }: Order) => keys.map(([key]) => (down ? `${key} desc` : key)).join(', ')

/** A statement and its values; each value is pushed where its place in the text is written. */
class Statement {
  readonly values: unknown[] = []
  put(value: unknown): string {
    return `$${this.values.push(value)}`
  }
}

/** Whether what is searched of a brush has a typed word. */
const hasTerm = (statement: Statement, column: string, { text, isBeginning }: SearchTerm): string =>
  isBeginning ? `' ' || ${column} like ${statement.put(`% ${text}%`)}` : `${column} like ${statement.put(`%${text}%`)}`

const inLivePack = `(
  exists (select 1 from pack_brush i join pack p on p.id = i.pack_id where i.brush_id = brush.id and i.ordinal is not null
    and p.deleted_at is null)
  or exists (select 1 from set_item i join brush_set s on s.id = i.set_id join pack_set ps on ps.set_id = s.id
    join pack p on p.id = ps.pack_id where i.brush_id = brush.id and s.deleted_at is null and p.deleted_at is null))`
const inLiveSet = `exists (select 1 from set_item join brush_set on brush_set.id = set_item.set_id
  where set_item.brush_id = brush.id and brush_set.deleted_at is null)`

/** What makes a brush be something, a row each. */
const IS: Record<BrushIs, string | ((workspace: string) => string)> = {
  grain: 'brush.grain_sha is not null',
  plain: 'brush.grain_sha is null',
  ribbon: 'brush.ribbon',
  erases: "brush.behaviour = 'erase'",
  smears: "brush.behaviour = 'smear'",
  made: 'exists (select 1 from source_made i where i.brush_id = brush.id)',
  taken: 'exists (select 1 from taken_brush i where i.brush_id = brush.id)',
  unpacked: `not ${inLivePack}`,
  unused: `not ${inLiveSet} and not ${inLivePack}
    and not exists (select 1 from pocket_item i join pocket p on p.id = i.pocket_id
      where i.brush_id = brush.id and p.deleted_at is null)`,
  // of each pack the newest release counts; what they hold is one list, made once for all brushes
  changed: (workspace) => `exists (select 1 from (
      select (b ->> 'id')::uuid as id, r.created_at from (
        select distinct on (pack_id) created_at, brushes from release
        where workspace_id = ${workspace} and state = 'ready' order by pack_id, created_at desc) r
      cross join lateral jsonb_array_elements(r.brushes) b) released
    where released.id = brush.id and brush.updated_at > released.created_at)`,
}

/** The conditions of a filter, as text. The workspace is always the first of them. */
function whereOf(
  statement: Statement,
  workspaceId: string,
  filter: BrushFilter,
  terms: readonly SearchTerm[] = toTerms(filter.q ?? ''),
): string {
  const workspace = statement.put(workspaceId)
  return [
    `brush.workspace_id = ${workspace}`,
    `brush.deleted_at is ${filter.bin ? 'not ' : ''}null`,
    ...terms.map((term) => hasTerm(statement, 'brush.search_text', term)),
    filter.tag && `brush.tags @> array[${statement.put(filter.tag)}]::text[]`,
    filter.reading && `brush.reading = ${statement.put(filter.reading)}`,
    filter.frames && `brush.frames ${filter.frames === 'one' ? '=' : '>'} 1`,
    filter.sizeFrom !== undefined && `brush.size_px >= ${statement.put(filter.sizeFrom)}`,
    filter.sizeTo !== undefined && `brush.size_px <= ${statement.put(filter.sizeTo)}`,
    filter.maker && `brush.maker = ${statement.put(filter.maker)}`,
    // what came with the product shows where it is asked for: in a set
    !filter.setId && 'not brush.starter',
    filter.setId && `set_item.set_id = ${statement.put(filter.setId)}`,
    filter.inFolder &&
      `brush.id in (select i.brush_id from brush_set s join set_item i on i.set_id = s.id
        where s.workspace_id = ${workspace} and s.folder = ${statement.put(filter.inFolder)} and s.deleted_at is null)`,
    filter.loose && `not ${inLiveSet}`,
    ...(filter.is ?? []).map((is) => {
      const condition = IS[is]
      return typeof condition === 'string' ? condition : condition(workspace)
    }),
    filter.uses &&
      `exists (select 1 from stroke_look i where i.brush_id = brush.id and i.uses @> ${statement.put(filter.uses)}::text[])`,
    filter.sourceId &&
      `exists (select 1 from source_made i where i.brush_id = brush.id and i.source_id = ${statement.put(filter.sourceId)})`,
    filter.fitAt &&
      `exists (select 1 from fit_cell i where i.brush_id = brush.id and i.destination_id = ${statement.put(filter.fitAt)}
        and i.score between ${statement.put(filter.fitFrom ?? 0)} and ${statement.put(filter.fitTo ?? 100)})`,
  ]
    .filter(Boolean)
    .join(' and ')
}

const fromOf = (filter: BrushFilter) => (filter.setId ? 'brush join set_item on set_item.brush_id = brush.id' : 'brush')

/** What a list is read from, with the conditions on it. */
type Found = { from: string; where: string }

/** Brushes that have one of some words, in the order of their names. */
const BY_WORD: Order = {
  keys: [
    ['hit.sort_name', 'text'],
    ['hit.brush_id', 'uuid'],
  ],
}
/** So many of them are looked up for a page; where too few of these fit, few do in all, and are gathered first. */
const LOOK_UPS_MAX = 1500

const isSearch = (filter: BrushFilter) => toTerms(filter.q ?? '').length > 0 && !filter.bin && !filter.setId

/** Brushes out of `hits`, each looked up by itself: `offset 0` keeps the planner from gathering all that fit first. */
const lookUp = (hits: string, where: string) =>
  `(${hits}) hit cross join lateral (select * from brush where brush.id = hit.brush_id and ${where} offset 0) brush`

/** The brushes of a list. A search begins with those of the word that tells most, where few have it. */
function findAll(statement: Statement, workspaceId: string, filter: BrushFilter, rarest: Rarest | undefined): Found {
  if (!rarest?.isFew) return { from: fromOf(filter), where: whereOf(statement, workspaceId, filter) }
  const hits = `select distinct brush_id from brush_word where workspace_id = ${statement.put(workspaceId)}
    and word = any(${statement.put(rarest.words)})`
  return { from: lookUp(hits, whereOf(statement, workspaceId, filter, rarest.others)), where: 'true' }
}

/**
 * The first lines of a search whose words are all common: an index has the brushes of one of them in the order of their
 * names, with what is searched of each, and is walked no further than the page goes.
 * @returns Nothing where that may not be all of the page.
 */
async function walkWord(
  pool: pg.Pool,
  columns: string,
  { workspaceId, filter, rarest, lines }: { workspaceId: string; filter: BrushFilter; rarest: Rarest; lines: number },
): Promise<unknown[][] | undefined> {
  const statement = new Statement()
  const workspace = statement.put(workspaceId)
  const others = rarest.others.map((term) => hasTerm(statement, 'short_text', term)).join(' and ') || 'true'
  const inOrder = `order by sort_name, brush_id limit ${LOOK_UPS_MAX}`
  const each = rarest.words.map(
    (word) => `(select sort_name, brush_id from brush_word where workspace_id = ${workspace}
      and word = ${statement.put(word)} and (short_text is null or ${others}) ${inOrder})`,
  )
  const hits = each.length === 1 ? each.join() : `${each.join(' union ')} ${inOrder}`
  const where = whereOf(statement, workspaceId, filter, rarest.others)
  const text = `select ${columns} from ${lookUp(hits, where)} order by ${orderBy(BY_WORD)} limit ${statement.put(lines)}`
  const rows = await run(pool, statement, text)
  return rows.length < lines ? undefined : rows
}

/**
 * Runs a statement, planned anew each time: whether the index of words or that of the order is quicker depends on how
 * common the words are and on how far down the page lies, and a plan for any values takes neither.
 */
const run = async (pool: pg.Pool, { values }: Statement, text: string): Promise<unknown[][]> =>
  (await pool.query<unknown[]>({ text, values, rowMode: 'array' })).rows

export type BrushRange = { sort: BrushSort; from: number; limit: number }

/** What lists are read from. */
type Source = { pool: pg.Pool; landmarks: ListLandmarks }

/** Rows of a part of the list, in its order. */
async function select(
  columns: string,
  source: Source,
  workspaceId: string,
  filter: BrushFilter,
  range: BrushRange,
): Promise<unknown[][]> {
  const rarest = isSearch(filter) ? await findRarest(source.pool, workspaceId, toTerms(filter.q ?? '')) : undefined
  if (rarest === 'none') return []
  const lines = range.from + range.limit
  if (rarest && !rarest.isFew && orderOf(range.sort, filter) === ORDERS.name && lines <= LOOK_UPS_MAX / 2) {
    const rows = await walkWord(source.pool, columns, { workspaceId, filter, rarest, lines })
    if (rows) return rows.slice(range.from)
  }
  const statement = new Statement()
  const order = orderOf(range.sort, filter)
  const found = findAll(statement, workspaceId, filter, rarest)
  const { beyond, skip } = await nearest(source, workspaceId, filter, range)
  const start = beyond
    ? ` and (${order.keys.map(([key]) => key).join(', ')}) ${order.down ? '<=' : '>='}
        (${order.keys.map(([, type], i) => `${statement.put(beyond[i])}::text::${type}`).join(', ')})`
    : ''
  const text = `select ${columns} from ${found.from}${withLooks(range.sort)} where ${found.where}${start} order by ${orderBy(order)}
    offset ${statement.put(skip)} limit ${statement.put(range.limit)}`
  return run(source.pool, statement, text)
}

/** Whether a list changes with the library alone: what packs, pockets and measures make of it is told by other events. */
const followsLibrary = ({ is, fitAt }: BrushFilter) =>
  fitAt === undefined && (is ?? []).every((name) => name in OF_LIBRARY)
const OF_LIBRARY = { grain: true, plain: true, ribbon: true, erases: true, smears: true }

/** The landmark to count from, and how many lines lie between it and the place; near the top, or alone, there is none. */
async function nearest(
  { pool, landmarks }: Source,
  workspaceId: string,
  filter: BrushFilter,
  { sort, from }: BrushRange,
): Promise<{ beyond?: Landmark; skip: number }> {
  if (from < LANDMARK_LINES || !followsLibrary(filter)) return { skip: from }
  const found = await landmarks.of(workspaceId, JSON.stringify([sort, filter]), () =>
    findLandmarks(pool, workspaceId, filter, sort),
  )
  const at = Math.min(Math.floor(from / LANDMARK_LINES), (found?.length ?? 0) - 1)
  const beyond = found?.[at]
  return beyond ? { beyond, skip: from - at * LANDMARK_LINES } : { skip: from }
}

async function findLandmarks(pool: pg.Pool, workspaceId: string, filter: BrushFilter, sort: BrushSort) {
  const statement = new Statement()
  const { keys, down } = orderOf(sort, filter)
  const text = `select ${keys.map((_, i) => `key${i}::text`).join(', ')} from (
      select ${keys.map(([key], i) => `${key} as key${i}`).join(', ')}, row_number() over (order by ${orderBy({ keys, down })}) as line
      from ${fromOf(filter)}${withLooks(sort)} where ${whereOf(statement, workspaceId, filter)}
    ) numbered where line % ${LANDMARK_LINES} = 1 order by line`
  return (await run(pool, statement, text)) as string[][]
}

/**
 * Lines from a place in the list on: any place is one request away.
 * Written as SQL and read as arrays, since building and mapping it otherwise took twice as long as the query itself.
 */
export const listBrushes = async (
  source: Source,
  workspaceId: string,
  filter: BrushFilter,
  range: BrushRange,
): Promise<BrushLine[]> => (await select(COLUMNS, source, workspaceId, filter, range)).map(toLine)

function toLine(row: unknown[]): BrushLine {
  const [id, name, maker, tags, reading, behaviour, frames, version, sizePx, revision] = row as [
    string,
    string,
    string,
    string,
    string,
    string,
    number,
    number,
    number,
    string,
  ]
  return {
    id,
    name,
    maker,
    tags: tags === '' ? [] : tags.split(TAG_END),
    reading,
    behaviour,
    frames,
    version,
    sizePx,
    revision,
  }
}

export async function countBrushes(pool: pg.Pool, workspaceId: string, filter: BrushFilter): Promise<number> {
  const statement = new Statement()
  const rarest = isSearch(filter) ? await findRarest(pool, workspaceId, toTerms(filter.q ?? '')) : undefined
  if (rarest === 'none') return 0
  const found = findAll(statement, workspaceId, filter, rarest)
  const rows = await run(pool, statement, `select count(*)::int from ${found.from} where ${found.where}`)
  return Number(rows[0]?.[0])
}

/** The ids of a part of the list, in its order: for choosing what is not on the page. */
export const listBrushIds = async (
  source: Source,
  workspaceId: string,
  filter: BrushFilter,
  range: BrushRange,
): Promise<string[]> => (await select('brush.id', source, workspaceId, filter, range)).map(([id]) => String(id))

/** Lines of some brushes, in the order of their ids as given; those that are gone are left out. */
export async function listLines(pool: pg.Pool, workspaceId: string, ids: readonly string[]): Promise<BrushLine[]> {
  const statement = new Statement()
  const wanted = statement.put(ids)
  const text = `select ${COLUMNS} from brush where brush.workspace_id = ${statement.put(workspaceId)} and brush.deleted_at is null
    and brush.id = any(${wanted}::uuid[]) order by array_position(${wanted}::uuid[], brush.id)`
  return (await run(pool, statement, text)).map(toLine)
}
