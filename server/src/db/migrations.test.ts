import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { defaultRecipe, Recipe } from '@satchel/core/brush/recipe'
import { PackManifest } from '@satchel/core/pack/manifest'
import { generateKeyBetween } from 'fractional-indexing'
import pg from 'pg'
import * as v from 'valibot'
import { afterAll, expect, inject, it } from 'vitest'
import { type Database, migrateDatabase, openDatabase } from './database.ts'
import { listPlaces } from './places.ts'
import { release } from './schema/all.ts'

const all = fileURLToPath(new URL('../../drizzle', import.meta.url))
const opened: Database[] = []
afterAll(() => Promise.all(opened.map((database) => database.close())))

/** A database of its own, with nothing in it. */
async function freshDatabase(): Promise<Database> {
  const name = `m${process.pid}_${Date.now()}_${opened.length}`
  const admin = new pg.Client({ connectionString: inject('databaseUrl') })
  await admin.connect()
  await admin.query(`create database ${name}`)
  await admin.end()
  const database = openDatabase(inject('databaseUrl').replace(/\/[^/]+$/, `/${name}`))
  opened.push(database)
  return database
}

/** The migrations up to one, as that version shipped them. */
function migrationsUpTo(count: number): string {
  const folder = mkdtempSync(join(tmpdir(), 'migrations-'))
  cpSync(all, folder, { recursive: true })
  const path = join(folder, 'meta/_journal.json')
  const journal = JSON.parse(readFileSync(path, 'utf8'))
  writeFileSync(path, JSON.stringify({ ...journal, entries: journal.entries.slice(0, count) }))
  return folder
}

it('a library of the first version comes along: recipes and releases are of today’s version, nothing else changes', async () => {
  const database = await freshDatabase()
  const { pool } = database
  await migrateDatabase(database, migrationsUpTo(1))
  const today = defaultRecipe({ sizePx: 33, frames: 2 })
  const { scatter: _scatter, ...path } = today.path
  const first = { ...today, version: 1, path: { ...path, scatterPct: 70, scatterAxis: 'along' } }
  const id = (n: number) => `00000000-0000-4000-8000-00000000000${n}`
  await pool.query('insert into workspace (id, name) values ($1, $2)', [id(1), 'Old marsh'])
  await pool.query('insert into tip (id, workspace_id, pixel_key) values ($1, $2, $3)', [id(2), id(1), 'k'])
  await pool.query(
    `insert into brush (id, workspace_id, name, tip_id, reading, behaviour, size_px, frames, search_text) values ($1, $2, 'Reed', $3, 'dark', 'paint', 33, 2, 'reed')`,
    [id(3), id(1), id(2)],
  )
  const snapshot = { name: 'Reed', maker: 'Ida', licence: '', tags: ['wet'], recipe: first }
  await pool.query('insert into brush_version (workspace_id, brush_id, ordinal, snapshot) values ($1, $2, 1, $3)', [
    id(1),
    id(3),
    snapshot,
  ])
  const brush = (n: string) => ({
    id: n,
    name: n,
    maker: '',
    licence: '',
    tags: [],
    recipe: first,
    frames: ['a'.repeat(64)],
  })
  const manifest = {
    format: 'satchel-pack',
    version: 1,
    title: 'Reeds',
    maker: '',
    licence: '',
    help: '',
    release: '1.0.0',
    brushes: [brush('b'), brush('a')],
    sets: [{ name: 'S', brushes: ['a', 'b'] }],
  }
  await pool.query(`insert into pack (id, workspace_id, title) values ($1, $2, 'Reeds')`, [id(4), id(1)])
  await pool.query(
    `insert into release (workspace_id, pack_id, version, manifest, brushes, licence_text, state) values ($1, $2, '1.0.0', $3, '[]', '', 'ready')`,
    [id(1), id(4), JSON.stringify(manifest)],
  )

  for (const [n, position] of [
    [5, 'a0'],
    [6, 'a0'],
    [7, 'a0'],
    [8, 'a1'],
  ] as const)
    await pool.query('insert into brush_set (id, workspace_id, name, position) values ($1, $2, $3, $4)', [
      id(n),
      id(1),
      `S${n}`,
      position,
    ])
  await pool.query('insert into gather (workspace_id) values ($1), ($1)', [id(1)])

  await migrateDatabase(database, all)
  const sets = await pool.query('select name, position from brush_set order by position collate "C"')
  expect(sets.rows.map(({ position }) => position)).toEqual(['a0', 'a0V', 'a0VV', 'a1'])
  expect(generateKeyBetween('a0V', 'a0VV') < 'a0VV').toBe(true)
  expect((await pool.query("select 1 from gather where state = 'open'")).rows).toHaveLength(1)
  const saved = await pool.query('select snapshot from brush_version')
  expect(saved.rows[0].snapshot).toEqual({
    ...snapshot,
    recipe: { ...today, path: { ...today.path, scatter: { acrossPct: 0, alongPct: 70 } } },
    tipId: id(2),
    thumbnail: { from: 'stroke' },
  })
  expect(v.safeParse(Recipe, saved.rows[0].snapshot.recipe).issues).toBeUndefined()
  const [{ manifest: released } = { manifest: undefined }] = await database.db
    .select({ manifest: release.manifest })
    .from(release)
  expect(v.safeParse(PackManifest, released).issues).toBeUndefined()
  expect(released?.brushes.map((each: { id: string }) => each.id)).toEqual(['b', 'a'])
  expect(released).toMatchObject({ title: 'Reeds', sets: manifest.sets })
})

it('what installs had replaced is remembered by the paths of their folder', async () => {
  const database = await freshDatabase()
  const { db, pool } = database
  await migrateDatabase(database, migrationsUpTo(23))
  const id = (n: number) => `00000000-0000-4000-8000-00000000000${n}`
  await pool.query('insert into workspace (id, name) values ($1, $2)', [id(1), 'Old marsh'])
  const installs = [
    [2, 'in', '2026-01-02'],
    [3, 'in', '2026-01-01'],
    [4, 'out', '2026-01-03'],
  ] as const
  for (const [n, state, at] of installs)
    await pool.query(
      `insert into install (id, workspace_id, name, destination_id, stand_in, brush_ids, state, created_at) values ($1, $2, 'I', 'dunlin', 'dunlin', '{}', $3, $4)`,
      [id(n), id(1), state, at],
    )
  const files = [
    // over what the person had there came the older one, and over that the newer one
    [3, 'Reed.gbr', 'a', 'theirs', false],
    [2, 'Reed.gbr', 'b', 'a', false],
    // the same bytes lay there before
    [2, 'Rush.gbr', 'same', null, true],
    [4, 'Sedge.gbr', 'c', 'gone', false],
  ] as const
  for (const [n, path, sha, replaced, wasThere] of files)
    await pool.query(
      `insert into install_file (install_id, workspace_id, brush_id, path, blob_sha, size_bytes, replaced_sha, was_there) values ($1, $2, $1, $3, $4, 1, $5, $6)`,
      [id(n), id(1), path, sha, replaced, wasThere],
    )
  for (const [path, sha] of [['Reed.gbr', 'b'], ['Rush.gbr', 'same']]) // biome-ignore format: a table
    await pool.query(
      `insert into stand_in_file (workspace_id, stand_in, path, blob_sha, size_bytes) values ($1, 'dunlin', $2, $3, 1)`,
      [id(1), path, sha],
    )
  await migrateDatabase(database, all)
  const claim = (n: number, sha256: string) => ({ install: id(n), sha256 })
  expect(Object.fromEntries(await listPlaces(db, { workspaceId: id(1), standIn: 'dunlin' }))).toEqual({
    'Reed.gbr': { theirs: ['theirs'], claims: [claim(3, 'a'), claim(2, 'b')] },
    'Rush.gbr': { theirs: ['same'], claims: [claim(2, 'same')] },
  })
})
