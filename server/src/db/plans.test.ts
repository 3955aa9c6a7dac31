import { defaultRecipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { type Person, startTestServer, type TestServer } from '../testing/test-server.ts'
import { insertBrushes } from './save-brush.ts'
import { addItems, createSet } from './sets.ts'

const BRUSHES = 20_000
const COUNTED_AS = 10_000_000
const PER_SET = 200
/** Tables with a row a brush, or more. */
const LARGE = ['brush', 'brush_version', 'tip', 'tip_frame', 'set_item', 'brush_word', 'library_word', 'stroke_look', 'blob', 'blob_piece'] // biome-ignore format: a list
/** A walk over ten million rows costs 100,000 of the planner's units for its rows alone (cpu_tuple_cost is 0.01). */
const COST_MOST = 50_000

let server: TestServer
let person: Person
let setId: string
let brushId: string
beforeAll(async () => {
  server = await startTestServer(inject('databaseUrl'))
  person = await server.owner()
  const { db, pool } = server.parts.deps
  const words = ['kelp', 'down', 'rope', 'sand', 'ink', 'foam', 'reed', 'shell', 'moss', 'rain']
  const frames = [{ blobSha: 'b'.repeat(64) as FileSha, pixelSha: 'a'.repeat(64) as PixelSha, width: 64, height: 64 }]
  const ids = await insertBrushes(
    db,
    person.workspaceId,
    Array.from({ length: BRUSHES }, (_, n) => ({
      name: `${words[n % 10]} ${words[(n * 7) % 9]} ${n}`,
      maker: `Maker ${n % 40}`,
      licence: '',
      tags: [words[(n * 3) % 10] ?? ''],
      recipe: defaultRecipe({ sizePx: 8 + (n % 200) }),
      frames,
      pixelKey: String(n),
      alikeKey: null,
      alikeMark: null,
    })),
  )
  for (let at = 0; at < ids.length; at += PER_SET) {
    const { id } = await createSet(db, person.workspaceId, `Set ${at / PER_SET}`)
    await db.transaction((tx) => addItems(tx, person.workspaceId, id, ids.slice(at, at + PER_SET)))
    setId = id
  }
  brushId = ids[777] ?? ''
  // every name holds a number of its own: the more brushes, the more words
  await pool.query('alter table brush_word alter column word set (n_distinct = -0.25)')
  await pool.query('vacuum analyze')
  // the planner multiplies rows a page by the pages it finds: what was counted is told so many times as often
  await pool.query(
    `update pg_class set reltuples = reltuples * $1 where reltuples > 0 and oid in (
       select c.oid from pg_class c where c.relname = any($2)
       union select i.indexrelid from pg_index i join pg_class c on c.oid = i.indrelid where c.relname = any($2))`,
    [COUNTED_AS / BRUSHES, LARGE],
  )
}, 240_000)
afterAll(() => server.close())

type Plan = { 'Node Type': string; 'Relation Name'?: string; 'Total Cost': number; Plans?: Plan[] }
type Statement = { text: string; values: unknown[] }

/** All statements that read and are sent while something is done. */
async function statementsOf(work: () => Promise<unknown>): Promise<Statement[]> {
  const sent: Statement[] = []
  const { query } = pg.Client.prototype
  pg.Client.prototype.query = function (this: pg.Client, asked: unknown, ...more: unknown[]) {
    const text = typeof asked === 'string' ? asked : (asked as { text?: string }).text
    const values = Array.isArray(more[0]) ? more[0] : ((asked as { values?: unknown[] }).values ?? [])
    if (text && /^\s*(select|with)\b/i.test(text)) sent.push({ text, values })
    return (query as (...args: unknown[]) => unknown).call(this, asked, ...more)
  } as typeof query
  try {
    await work()
  } finally {
    pg.Client.prototype.query = query
  }
  return sent
}

const nodesOf = (plan: Plan): Plan[] => [plan, ...(plan.Plans ?? []).flatMap(nodesOf)]

async function explain({ text, values }: Statement): Promise<Plan> {
  const { rows } = await server.parts.deps.pool.query(`explain (format json) ${text}`, values as unknown[])
  return rows[0]['QUERY PLAN'][0].Plan
}

type Brush = { name: string; maker: string; licence: string; tags: string[]; recipe: object; version: number }
const ok = async (path: string, init?: RequestInit) => {
  const response = await person.request(path, init)
  expect([path, response.status]).toEqual([path, 200])
  return response
}
/** What pages of curators ask for most. */
const REQUESTS: Record<string, () => Promise<unknown>> = {
  'a page of all brushes': () => ok('/api/brushes?sort=name'),
  'a page far down': () => ok('/api/brushes?sort=name&from=9000'),
  'the newest brushes': () => ok('/api/brushes?sort=newest'),
  'a page by looks': () => ok('/api/brushes?sort=darkness'),
  'a search of two words': () => ok('/api/brushes?q=kelp%20down'),
  'a search by a whole name': () => ok('/api/brushes?q=kelp%20kelp%20770'),
  'all sets': () => ok('/api/sets'),
  'a page of a set': () => ok(`/api/brushes?set=${setId}`),
  'one brush': () => ok(`/api/brushes/${brushId}`),
  'a brush that is saved': async () => {
    const { name, maker, licence, tags, recipe, version } = (await (
      await ok(`/api/brushes/${brushId}`)
    ).json()) as Brush
    await ok(`/api/brushes/${brushId}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, maker, licence, tags: [...tags, 'wet'], recipe, from: version }),
    })
  },
}

describe('at ten million brushes, by the planner', () => {
  it.each(Object.keys(REQUESTS))('%s walks over no table', async (name) => {
    const ask = REQUESTS[name]
    if (!ask) throw new Error(name)
    await ask() // what a server keeps is kept
    const statements = await statementsOf(ask)
    expect(statements.length).toBeGreaterThan(0)
    for (const statement of statements) {
      const plan = await explain(statement)
      const walks = nodesOf(plan).filter(
        (node) => node['Node Type'] === 'Seq Scan' && LARGE.includes(node['Relation Name'] ?? ''),
      )
      expect({
        text: statement.text,
        walks,
        cost: plan['Total Cost'] < COST_MOST ? 'little' : plan['Total Cost'],
      }).toEqual({
        text: statement.text,
        walks: [],
        cost: 'little',
      })
    }
  })

  it('is what the planner believes', async () => {
    const plan = await explain({ text: 'select * from brush', values: [] })
    expect(plan['Node Type']).toBe('Seq Scan')
    expect(plan['Total Cost']).toBeGreaterThan(2 * COST_MOST * 0.95)
  })
})
