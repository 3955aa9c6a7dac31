import { createReadStream } from 'node:fs'
import { mkdir, readFile, stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { isOwnPicture } from '@satchel/core/brush/thumbnail'
import { toUtf8 } from '@satchel/core/formats/text'
import type { FileSha } from '@satchel/core/hashes'
import {
  LIBRARY_FORMAT,
  LIBRARY_PATH,
  LIBRARY_VERSION,
  type LibraryInfo,
  libraryFilePath,
  ROWS_PART_BYTES,
  rowsPath,
} from '@satchel/core/pack/library-file'
import { framePath, grainPath, MANIFEST_PATH, type PackManifest, thumbnailPath } from '@satchel/core/pack/manifest'
import { LICENCE_PATH, README_PATH, signedSums } from '@satchel/core/pack/write'
import { nodeCrc32 } from '@satchel/node/hash'
import { and, eq, sql } from 'drizzle-orm'
import type { Db } from '../db/database.ts'
import { LIBRARY_TABLES, type LibraryTable, STARTER } from '../db/library-tables.ts'
import { isAnyOf } from '../db/many.ts'
import { findFacts } from '../db/members.ts'
import { filesOf, ownsFiles } from '../db/picture-owners.ts'
import { blob } from '../db/schema/all.ts'
import type { Deps } from '../deps.ts'
import { freezeContents } from '../hand-out/freeze.ts'
import { openZipFile } from '../hand-out/zip-file.ts'
import type { JobContext } from '../queue/queue.ts'

/** Rows that are read at once; a release is as large as all else of its pack together. */
const ROWS_AT_ONCE = 200
const LARGE: Partial<Record<LibraryTable['name'], number>> = { release: 1 }
/** A larger file is not taken into memory. */
const MEMORY_MAX_BYTES = 64 * 1024 * 1024

type Work = Pick<JobContext, 'signal' | 'progress'> & { folder: string }
type Part = { path: string; file: string }

/**
 * Writes everything of a library into one file. Rows are those of one moment; files never change.
 * The same library gives the same bytes, wherever it lies.
 */
export async function writeLibrary(
  deps: Deps,
  workspaceId: string,
  { signal, progress, folder }: Work,
): Promise<string> {
  const { parts, info, starters, files: named } = await writeRows(deps.db, workspaceId, folder)
  const frozen = await freezeAll(deps.db, workspaceId, info)
  const manifest = frozen && { ...frozen, manifest: withNames(frozen.manifest, starters) }
  const stored = await findFiles(deps.db, workspaceId, named)
  const places = toPlaces(manifest?.manifest, manifest?.brushes, stored)
  const total = places.length + 1
  progress(0, total)
  const path = join(folder, 'library.zip')
  const zip = await openZipFile(path)
  const text = (entry: string, content: string) => zip.add({ path: entry, bytes: toUtf8(content), packing: 'deflate' })
  if (manifest) {
    await text(MANIFEST_PATH, `${JSON.stringify(manifest.manifest, null, 1)}\n`)
    await text(LICENCE_PATH, manifest.licenceText)
  }
  await text(README_PATH, README)
  for (const [i, { path: entry, sha256 }] of places.entries()) {
    signal.throwIfAborted()
    const file = await deps.blobs.path(workspaceId, sha256)
    const { size } = await stat(file)
    if (size <= MEMORY_MAX_BYTES)
      await zip.add({ path: entry, bytes: new Uint8Array(await readFile(file)), packing: 'store' })
    else await zip.addFile(entry, { path: file, crc: await crcOf(file), sizeBytes: size })
    progress(i + 1, total)
  }
  for (const part of parts)
    await zip.add({ path: part.path, bytes: new Uint8Array(await readFile(part.file)), packing: 'deflate' })
  const files = new Map(places.map(({ sha256, path: entry }) => [sha256, entry]))
  const head: LibraryInfo = {
    ...info,
    files: stored.map(({ sha256, mediaType }) => ({ sha256, path: files.get(sha256) ?? '', mediaType })),
  }
  await text(LIBRARY_PATH, `${JSON.stringify(head, null, 1)}\n`)
  for (const entry of signedSums(await zip.sums(), undefined)) await zip.add(entry)
  await zip.finish()
  progress(total, total)
  return path
}

/** A manifest with names for the ids of what came with the product, as rows have them. */
function withNames(manifest: PackManifest, starters: ReadonlyMap<string, string>): PackManifest {
  const nameOf = (id: string) => starters.get(id) ?? id
  return {
    ...manifest,
    brushes: manifest.brushes.map((brush) => ({ ...brush, id: nameOf(brush.id) })),
    single: manifest.single.map(nameOf),
    sets: manifest.sets.map((set) => ({ ...set, brushes: set.brushes.map(nameOf) })),
    pockets: manifest.pockets.map((pocket) => ({
      ...pocket,
      entries: pocket.entries.map((entry) => ({ ...entry, brush: nameOf(entry.brush) })),
    })),
  }
}

async function crcOf(file: string): Promise<number> {
  let crc = 0
  for await (const chunk of createReadStream(file)) crc = nodeCrc32(chunk, crc)
  return crc
}

const README = `A Satchel library

Everything of one library: brushes with all their versions, sets, pockets, grains, sources with their files
and plans, destinations, packs and their releases.

Give it to a Gentle Satchel that is still empty to have all of it back (its account menu, "The whole library").
Gathered from like any other file, it brings its brushes and sets.

Not in it: who may come in, links that were given to people, and the key that signs. A backup of the server
has those too.
`

/** All rows of one moment, in files; what came with the product is named in the place of its ids. */
async function writeRows(db: Db, workspaceId: string, folder: string) {
  await mkdir(join(folder, 'rows'), { recursive: true })
  return db.transaction(
    async (tx) => {
      // times are written as text: the same in every place
      await tx.execute(sql`set local timezone to 'UTC'`)
      const starters = await tx.execute<{ id: string; name: string }>(sql`
        select id, ${STARTER} || name as name from brush where workspace_id = ${workspaceId} and starter
        union all select id, ${STARTER} || name from brush_set where workspace_id = ${workspaceId} and starter`)
      const names = new Map(starters.rows.map(({ id, name }) => [id, name]))
      const parts: Part[] = []
      const files = new Set<FileSha>()
      const tables: LibraryInfo['tables'] = []
      for (const table of LIBRARY_TABLES) {
        let rows = 0
        let count = 0
        let part: string[] = []
        let bytes = 0
        const endPart = async () => {
          if (part.length === 0) return
          const file = join(folder, 'rows', `${table.name}-${++count}`)
          await writeFile(file, part.join(''))
          parts.push({ path: rowsPath(table.name, count), file })
          part = []
          bytes = 0
        }
        for await (const lines of readRows(tx, workspaceId, table)) {
          for (const sha of filesIn(table, lines)) files.add(sha)
          for (const row of lines) {
            const line = `${JSON.stringify(named(row, table, names))}\n`
            part.push(line)
            bytes += line.length
            rows++
            if (bytes >= ROWS_PART_BYTES) await endPart()
          }
        }
        await endPart()
        tables.push({ name: table.name, rows, parts: count })
      }
      const sets = await tx.execute<{ name: string; position: string }>(sql`
        select name, position from brush_set where workspace_id = ${workspaceId} and starter
        order by position collate "C"`)
      const facts = await findFacts(tx, workspaceId)
      const head: Omit<LibraryInfo, 'files'> = {
        ...{ format: LIBRARY_FORMAT, version: LIBRARY_VERSION, maker: facts.maker, licence: facts.licence },
        tables,
        starterSets: sets.rows.map(({ name, position }) => ({ name, position })),
      }
      return { parts, info: head, starters: names, files }
    },
    { isolationLevel: 'repeatable read' },
  )
}

type Row = Record<string, unknown>

async function* readRows(
  tx: Db,
  workspaceId: string,
  { name, sqlName, where, order }: LibraryTable,
): AsyncGenerator<Row[]> {
  // a cursor takes no parameters
  const workspace = sql.raw(`'${workspaceId}'::uuid`)
  await tx.execute(sql`declare library_rows cursor for
    select to_jsonb(t) - 'workspace_id' as row from ${sql.raw(`"${sqlName}"`)} t
    where t.workspace_id = ${workspace} and ${where(workspace)} order by ${sql.raw(order)}`)
  try {
    for (;;) {
      const { rows } = await tx.execute<{ row: Row }>(
        sql`fetch ${sql.raw(String(LARGE[name] ?? ROWS_AT_ONCE))} from library_rows`,
      )
      if (rows.length === 0) return
      yield rows.map(({ row }) => row)
    }
  } finally {
    await tx.execute(sql`close library_rows`)
  }
}

function named(row: Row, { references }: LibraryTable, starters: ReadonlyMap<string, string>): Row {
  const changed = references.flatMap(({ column }) => {
    const name = starters.get(String(row[column]))
    return name === undefined ? [] : [[column, name] as const]
  })
  return changed.length === 0 ? row : { ...row, ...Object.fromEntries(changed) }
}

/** All brushes and sets as a pack; undefined where there is none. A brush whose grain is gone is no part of a pack. */
async function freezeAll(db: Db, workspaceId: string, facts: { maker: string; licence: string }) {
  const ids = sql`(select b.id from brush b where b.workspace_id = ${workspaceId}
    and (not b.starter or exists (
      select 1 from set_item i join brush_set s on s.id = i.set_id and s.deleted_at is null and not s.starter
      where i.brush_id = b.id))
    and b.deleted_at is null and (b.grain_sha is null or exists (
      select 1 from material m where m.workspace_id = b.workspace_id and m.kind = 'grain' and m.pixel_sha = b.grain_sha
        and m.deleted_at is null)))`
  const { rows } = await db.execute<{ n: number }>(sql`select count(*)::int as n from ${ids} as own`)
  if (!rows[0]?.n) return undefined
  const sets = await db.execute<{ id: string; name: string }>(sql`
    select id, name from brush_set where workspace_id = ${workspaceId} and not starter and deleted_at is null
    order by position collate "C"`)
  const single = await db.execute<{ id: string }>(sql`
    select id from brush where id in ${ids} and not exists (
      select 1 from set_item i join brush_set s on s.id = i.set_id and s.deleted_at is null and not s.starter
      where i.brush_id = brush.id) order by id`)
  return freezeContents(db, {
    ...{ workspaceId, ids, what: 'library', title: 'The whole library', release: '', help: '', licenceText: '' },
    ...{ maker: facts.maker, licence: facts.licence, sets: sets.rows, single: single.rows },
    ...{ notes: new Map(), destinationIds: [] },
  })
}

type Stored = { sha256: FileSha; mediaType: string }

/** The files that rows of a table name: what is under way, or lies in folders of apps, is none of the library's. */
function filesIn({ name, columns }: LibraryTable, rows: readonly Row[]): FileSha[] {
  if (!ownsFiles(name)) return []
  const keyed = rows.map((row) =>
    Object.fromEntries([...columns].map(([column, { key }]) => [key, row[column] ?? null])),
  )
  return filesOf(name, keyed)
}

/** What files are that rows name. */
async function findFiles(db: Db, workspaceId: string, shas: ReadonlySet<FileSha>): Promise<Stored[]> {
  const rows = await db
    .select({ sha256: blob.sha256, mediaType: blob.mediaType })
    .from(blob)
    .where(and(eq(blob.workspaceId, workspaceId), isAnyOf(blob.sha256, [...shas])))
    .orderBy(sql`${blob.sha256} collate "C"`)
  return rows
}

type Place = { path: string; sha256: FileSha }

/** Where each file lies: where a pack has it, and in a place of their own those that a pack has no place for. */
function toPlaces(
  manifest: PackManifest | undefined,
  brushes: Awaited<ReturnType<typeof freezeContents>>['brushes'] | undefined,
  stored: readonly Stored[],
): Place[] {
  const places = new Map<string, FileSha>()
  const put = (path: string, sha256: FileSha | undefined) => {
    if (sha256 && !places.has(path)) places.set(path, sha256)
  }
  for (const [i, brush] of (manifest?.brushes ?? []).entries()) {
    const files = brushes?.[i]
    for (const [at, pixels] of brush.frames.entries()) put(framePath(brush, pixels), files?.blobs[at])
    if (brush.recipe.ground.grain) put(grainPath(brush.recipe.ground.grain.sha256), files?.grainBlob)
    if (isOwnPicture(brush.thumbnail)) put(thumbnailPath(i), files?.thumbnailBlob)
  }
  const placed = new Set(places.values())
  for (const { sha256 } of stored) if (!placed.has(sha256)) put(libraryFilePath(sha256), sha256)
  return [...places].map(([path, sha256]) => ({ path, sha256 }))
}
