import { createHash } from 'node:crypto'
import type pg from 'pg'

/** What a list of brushes can be narrowed by. */
export type BrushFilter = {
  setId?: string | undefined
  q?: string | undefined
  tag?: string | undefined
  reading?: string | undefined
  frames?: 'one' | 'many' | undefined
  sizeFrom?: number | undefined
  sizeTo?: number | undefined
  maker?: string | undefined
  bin?: boolean | undefined
  /** Brushes in no set at all. */
  loose?: boolean | undefined
}

export type BrushSort = 'name' | 'newest' | 'size' | 'set'

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
  brush.frames, brush.version, brush.size_px, extract(epoch from brush.updated_at)::text`

const ORDER = {
  name: 'lower(brush.name), brush.id',
  newest: 'brush.created_at desc, brush.id desc',
  size: 'brush.size_px, brush.id',
  set: 'set_item.position collate "C", brush.id',
} as const

/** A statement and its values; each value is pushed where its place in the text is written. */
class Statement {
  readonly values: unknown[] = []
  put(value: unknown): string {
    return `$${this.values.push(value)}`
  }
}

/** The conditions of a filter, as text. The workspace is always the first of them. */
function whereOf(statement: Statement, workspaceId: string, filter: BrushFilter): string {
  const contains = (word: string) => `%${word.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`
  const words = (filter.q ?? '').split(/\s+/).filter(Boolean)
  return [
    `brush.workspace_id = ${statement.put(workspaceId)}`,
    `brush.deleted_at is ${filter.bin ? 'not ' : ''}null`,
    ...words.map((word) => `brush.search_text like ${statement.put(contains(word))}`),
    filter.tag && `brush.tags @> array[${statement.put(filter.tag)}]::text[]`,
    filter.reading && `brush.reading = ${statement.put(filter.reading)}`,
    filter.frames && `brush.frames ${filter.frames === 'one' ? '=' : '>'} 1`,
    filter.sizeFrom !== undefined && `brush.size_px >= ${statement.put(filter.sizeFrom)}`,
    filter.sizeTo !== undefined && `brush.size_px <= ${statement.put(filter.sizeTo)}`,
    filter.maker && `brush.maker = ${statement.put(filter.maker)}`,
    // what came with the product shows where it is asked for: in a set
    !filter.setId && 'not brush.starter',
    filter.setId && `set_item.set_id = ${statement.put(filter.setId)}`,
    filter.loose &&
      `not exists (select 1 from set_item join brush_set on brush_set.id = set_item.set_id
        where set_item.brush_id = brush.id and brush_set.deleted_at is null)`,
  ]
    .filter(Boolean)
    .join(' and ')
}

const fromOf = (filter: BrushFilter) => (filter.setId ? 'brush join set_item on set_item.brush_id = brush.id' : 'brush')

/**
 * Runs a statement, prepared under a name of its own text. A search is planned anew each time: whether the index of
 * words or that of names is quicker depends on how common the words are.
 */
async function run(pool: pg.Pool, filter: BrushFilter, text: string, values: unknown[]): Promise<unknown[][]> {
  const name = filter.q ? {} : { name: createHash('sha1').update(text).digest('hex') }
  const { rows } = await pool.query<unknown[]>({ ...name, text, values, rowMode: 'array' })
  return rows
}

export type BrushRange = { sort: BrushSort; from: number; limit: number }

const orderOf = (sort: BrushSort, filter: BrushFilter) => ORDER[sort === 'set' && !filter.setId ? 'name' : sort]

/**
 * Lines from a place in the list on: any place is one request away. The ids are found first, which an index alone can
 * mostly do, and only those of the page are looked up in full.
 * Written as SQL and read as arrays, since building and mapping it otherwise took twice as long as the query itself.
 */
export async function listBrushes(
  pool: pg.Pool,
  workspaceId: string,
  filter: BrushFilter,
  { sort, from, limit }: BrushRange,
): Promise<BrushLine[]> {
  const statement = new Statement()
  const order = orderOf(sort, filter)
  const where = whereOf(statement, workspaceId, filter)
  const inSet = filter.setId
    ? ` join set_item on set_item.brush_id = brush.id and set_item.set_id = ${statement.put(filter.setId)}`
    : ''
  const text = `select ${COLUMNS} from (
      select brush.id from ${fromOf(filter)} where ${where}
      order by ${order} offset ${statement.put(from)} limit ${statement.put(limit)}
    ) page join brush on brush.id = page.id${inSet} order by ${order}`
  const rows = await run(pool, filter, text, statement.values)
  return rows.map(toLine)
}

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
  const where = whereOf(statement, workspaceId, filter)
  const rows = await run(pool, filter, `select count(*)::int from ${fromOf(filter)} where ${where}`, statement.values)
  return Number(rows[0]?.[0])
}

/** The ids of a part of the list, in its order: for choosing what is not on the page. */
export async function listBrushIds(
  pool: pg.Pool,
  workspaceId: string,
  filter: BrushFilter,
  { sort, from, limit }: BrushRange,
): Promise<string[]> {
  const statement = new Statement()
  const where = whereOf(statement, workspaceId, filter)
  const text = `select brush.id from ${fromOf(filter)} where ${where} order by ${orderOf(sort, filter)}
    offset ${statement.put(from)} limit ${statement.put(limit)}`
  const rows = await run(pool, filter, text, statement.values)
  return rows.map(([id]) => String(id))
}
