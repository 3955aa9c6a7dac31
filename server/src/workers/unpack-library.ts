import { type FileHandle, mkdir, open, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { FormatError, LimitError } from '@satchel/core/errors'
import { parseJson } from '@satchel/core/formats/json'
import { fromUtf8 } from '@satchel/core/formats/text'
import type { ByteSource, ZipEntry } from '@satchel/core/formats/zip/layout'
import { listZip, openStoredEntry, readZipEntry } from '@satchel/core/formats/zip/read'
import {
  LIBRARY,
  LIBRARY_ENTRIES_MAX,
  LIBRARY_INFO_MAX_BYTES,
  LIBRARY_MAX_BYTES,
  LIBRARY_PATH,
  LibraryInfo,
  ROWS_MAX_BYTES,
  rowsPath,
} from '@satchel/core/pack/library-file'
import { hashSource, nodeHashBytes, nodeZipCodecs } from '@satchel/node/hash'
import * as v from 'valibot'
import { LIBRARY_TABLES, type LibraryTable, STARTER, type TableName } from '../db/library-tables.ts'
import { filesOf, ownsFiles } from '../db/picture-owners.ts'
import type { StarterIds, UnpackedLibrary } from './results.ts'

/** A file is copied in pieces of so many bytes. */
const PIECE_BYTES = 4 * 1024 * 1024

/**
 * Checks a library file whole before anything of it is stored: that every file is what it is called, that every row can be
 * read, and that none names what is not in the file. Then its files and rows lie in the folder.
 *
 * @throws {FormatError} If anything of it is missing, wrong or left over.
 * @throws {LimitError} If it is larger than is taken.
 */
export async function unpackLibrary({
  path,
  folder,
  starters,
}: {
  path: string
  folder: string
  starters: StarterIds
}): Promise<UnpackedLibrary> {
  const handle = await open(path)
  try {
    const source = await toSource(handle)
    const entries = await listZip(source, { unpackedMaxBytes: LIBRARY_MAX_BYTES, entriesMax: LIBRARY_ENTRIES_MAX })
    const byPath = new Map(entries.map((entry) => [entry.path, entry]))
    const read = async (entryPath: string, maxBytes: number) => {
      const entry = need(byPath, entryPath)
      if (entry.sizeBytes > maxBytes) throw new LimitError(`${entryPath} in bytes`, entry.sizeBytes, maxBytes)
      return fromUtf8(await readZipEntry(source, entry, nodeZipCodecs), entryPath, 0)
    }
    const info = readInfo(await read(LIBRARY_PATH, LIBRARY_INFO_MAX_BYTES))
    await mkdir(join(folder, 'files'), { recursive: true })
    for (const { sha256, path: entryPath } of info.files)
      await copyFile(source, need(byPath, entryPath), { sha256, to: join(folder, 'files', sha256) })
    const rows: UnpackedLibrary['rows'] = []
    const checker = new RowChecker(info)
    const known = { brush: new Map(starters.brush), rackSet: new Map(starters.rackSet) }
    for (const table of LIBRARY_TABLES) {
      const told = info.tables.find(({ name }) => name === table.name)
      if (!told) throw new FormatError(LIBRARY, undefined, `the table ${table.name} in it`)
      let count = 0
      for (let part = 1; part <= told.parts; part++) {
        const entryPath = rowsPath(table.name, part)
        const lines = (await read(entryPath, ROWS_MAX_BYTES)).split('\n').filter((line) => line !== '')
        count += lines.length
        const checked = lines.flatMap((line, at) =>
          withStarters(checker.check(table, parseJson(line, LIBRARY), `${entryPath}, line ${at + 1}`), table, known),
        )
        const file = join(folder, `${table.name}-${part}.json`)
        await writeFile(file, JSON.stringify(checked))
        rows.push({ table: table.name, file })
      }
      if (count !== told.rows)
        throw new FormatError(LIBRARY, undefined, `${told.rows} rows of ${table.name}, found ${count}`)
    }
    return { info, rows }
  } finally {
    await handle.close()
  }
}

async function toSource(handle: FileHandle): Promise<ByteSource> {
  const { size } = await handle.stat()
  return {
    size,
    read: async (offset, length) => {
      const bytes = new Uint8Array(Math.max(0, Math.min(length, size - offset)))
      const { bytesRead } = await handle.read(bytes, 0, bytes.length, offset)
      return bytes.subarray(0, bytesRead)
    },
  }
}

function need(byPath: ReadonlyMap<string, ZipEntry>, path: string): ZipEntry {
  const entry = byPath.get(path)
  if (!entry) throw new FormatError(LIBRARY, undefined, `the file ${path} in it`)
  return entry
}

function readInfo(text: string): LibraryInfo {
  const result = v.safeParse(LibraryInfo, parseJson(text, LIBRARY))
  if (result.success) return result.output
  const [issue] = result.issues
  throw new FormatError(LIBRARY, undefined, `${LIBRARY_PATH} to have ${v.getDotPath(issue) ?? 'what it needs'}`)
}

/** Writes one of its files out; no more than a piece of what lies there unpacked is held. */
async function copyFile(
  source: ByteSource,
  entry: ZipEntry,
  { sha256, to }: { sha256: string; to: string },
): Promise<void> {
  const stored = await openStoredEntry(source, entry)
  if (!stored) {
    const bytes = await readZipEntry(source, entry, nodeZipCodecs)
    if (nodeHashBytes(bytes) !== sha256) throw changed(entry.path)
    await writeFile(to, bytes)
    return
  }
  if ((await hashSource(stored)) !== sha256) throw changed(entry.path)
  const out = await open(to, 'w')
  try {
    for (let at = 0; at < stored.size; at += PIECE_BYTES)
      await out.write(await stored.read(at, Math.min(PIECE_BYTES, stored.size - at)))
  } finally {
    await out.close()
  }
}

const changed = (path: string) => new FormatError(LIBRARY, undefined, `${path} as it was written, found it changed`)

type Row = Record<string, unknown>

/** A row with the ids that the product's own have here; none where this version of the product has no such any more. */
function withStarters(
  row: Row,
  { references, columns }: LibraryTable,
  known: Record<keyof StarterIds, ReadonlyMap<string, string>>,
): Row[] {
  let made = row
  for (const { column, to } of references) {
    const named = row[column]
    if (typeof named !== 'string' || !named.startsWith(STARTER)) continue
    const id = known[to === 'brush' ? 'brush' : 'rackSet'].get(named)
    if (id === undefined && columns.get(column)?.isNeeded) return []
    made = { ...made, [column]: id ?? null }
  }
  return [made]
}

/** Looks at rows in the order in which they are put in: what one names has come before it, and lies in the file. */
class RowChecker {
  readonly #ids = new Map<TableName, Set<string>>()
  readonly #files: Set<string>

  constructor({ files }: LibraryInfo) {
    this.#files = new Set(files.map(({ sha256 }) => sha256))
  }

  /** @throws {FormatError} If it is no row of the table, or names what is not in the file. */
  check(table: LibraryTable, row: unknown, where: string): Row {
    const wrong = (what: string) => new FormatError(LIBRARY, undefined, `${where} to have ${what}`)
    if (typeof row !== 'object' || row === null || Array.isArray(row)) throw wrong('a row')
    const stored = row as Row
    for (const column of Object.keys(stored)) if (!table.columns.has(column)) throw wrong(`no "${column.slice(0, 60)}"`)
    const read: Row = {}
    for (const [column, { key, read: parse, isNeeded }] of table.columns) {
      const value = stored[column] ?? null
      if (value === null && isNeeded) throw wrong(`its ${column}`)
      try {
        read[key] = value === null ? null : parse(value)
      } catch {
        throw wrong(`a ${column} that can be read`)
      }
    }
    for (const { column, to } of table.references) {
      const named = stored[column]
      if (named === null || named === undefined) continue
      const isStarter = typeof named === 'string' && named.startsWith(STARTER) && (to === 'brush' || to === 'rackSet')
      if (!isStarter && !this.#ids.get(to)?.has(String(named))) throw wrong(`a ${column} that is in it`)
    }
    if (ownsFiles(table.name))
      for (const sha of filesOf(table.name, [read])) if (!this.#files.has(sha)) throw wrong(`its file ${sha}`)
    if (typeof stored.id === 'string') {
      const known = this.#ids.get(table.name) ?? new Set()
      this.#ids.set(table.name, known.add(stored.id))
    }
    return stored
  }
}
