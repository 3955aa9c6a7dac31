import type { SeenFile } from './look.ts'

/** A file as a folder lists it. */
export type Listed = { path: string; sizeBytes: number; modifiedMs: number }

/** What is remembered from one look at a folder to the next. */
export type Watching = {
  /** What was listed last, by path. */
  listed: ReadonlyMap<string, Listed>
  /** Of files that lie still: their hashes, with the size and time that they hold for. */
  hashed: ReadonlyMap<string, Listed & { sha256: string }>
}

export const notLookedYet = (): Watching => ({ listed: new Map(), hashed: new Map() })

const isSame = (a: Listed | undefined, b: Listed) => a?.sizeBytes === b.sizeBytes && a.modifiedMs === b.modifiedMs

/** What a listing says, before anything is read. */
export type Sighting = {
  /** Files that lie still and were not read so yet. */
  toHash: Listed[]
  /** Whether something is being written, or was there a moment ago: the folder is looked at again before that is told. */
  isMoving: boolean
  /** Files that are told without a hash: they are being written, or were there a moment ago. */
  waiting: string[]
}

/**
 * Tells which files lie still: those that were listed with the same size and time in the look before. Empty files are waited for, and so are
 * those that were listed before and are not now: programs that save by putting a new file in the place of the old one leave none for a moment.
 */
export function sight({ listed, hashed }: Watching, now: readonly Listed[]): Sighting {
  const toHash: Listed[] = []
  const waiting: string[] = []
  const paths = new Set<string>()
  for (const file of now) {
    paths.add(file.path)
    if (isSame(hashed.get(file.path), file)) continue
    if (file.sizeBytes > 0 && isSame(listed.get(file.path), file)) toHash.push(file)
    else waiting.push(file.path)
  }
  for (const path of listed.keys()) if (!paths.has(path)) waiting.push(path)
  return { toHash, waiting, isMoving: waiting.length > 0 }
}

/**
 * What is told after a listing, and what is remembered for the next.
 * @param read The hashes of what was to be read; a file that changed while it was read has none, and is waited for.
 */
export function settleSight(
  before: Watching,
  now: readonly Listed[],
  read: ReadonlyMap<string, string>,
): { seen: SeenFile[]; watching: Watching } {
  const { waiting } = sight(before, now)
  const listed = new Map(now.map((file) => [file.path, file]))
  const hashed = new Map<string, Listed & { sha256: string }>()
  const seen: SeenFile[] = []
  for (const file of now) {
    const kept = before.hashed.get(file.path)
    const sha256 = isSame(kept, file) ? kept?.sha256 : read.get(file.path)
    if (sha256) hashed.set(file.path, { ...file, sha256 })
    seen.push({ path: file.path, sizeBytes: file.sizeBytes, sha256: sha256 ?? null })
  }
  for (const path of waiting) if (!listed.has(path)) seen.push({ path, sizeBytes: 0, sha256: null })
  return { seen, watching: { listed, hashed } }
}
