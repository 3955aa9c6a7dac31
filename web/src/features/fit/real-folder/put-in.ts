import type { FileSha } from '@satchel/core/hashes'
import {
  type Conflicts,
  type Drift,
  findConflicts,
  findDrift,
  type PlacedFile,
} from '@satchel/core/installs/compare-folder'
import { type Folder, hashAt, hashOf, listPaths, readAt, removeAt, writeAt } from './folder-files.ts'
import { dropRecord, type FolderRecord, type KeptFile, keepBefore, readBefore, saveRecord } from './record.ts'

/** A file of an install as the server has it. */
export type InstallFile = { path: string; sha256: FileSha }
/** Where its bytes come from. */
export type LoadFile = (path: string) => Promise<ArrayBuffer>

/** What lies in a folder where an install would go. */
export type Found = { conflicts: Conflicts; there: PlacedFile[]; names: string[] }

export async function lookInto(folder: Folder, files: readonly InstallFile[]): Promise<Found> {
  const names = await listPaths(folder)
  const wanted = new Set(files.map(({ path }) => path.toLowerCase()))
  const there: PlacedFile[] = []
  for (const path of names) {
    if (!wanted.has(path.toLowerCase())) continue
    const sha256 = await hashAt(folder, path)
    if (sha256) there.push({ path, sha256 })
  }
  return { conflicts: findConflicts(files, there), there, names }
}

/** Something else lies in a folder than a moment ago. */
export class FolderChanged extends Error {}

type Putting = {
  installId: string
  folder: Folder
  files: readonly InstallFile[]
  /** What lay there when the person was asked. */
  there: readonly PlacedFile[]
  load: LoadFile
  onProgress?: (done: number, total: number) => void
}

/**
 * Puts an install into a folder, all of it or nothing: what is replaced is kept first, then all that will be written is
 * noted, then it is written file by file.
 * @throws {FolderChanged} If something else lies there by now. Whatever is thrown, the folder is as it was.
 */
export async function putInto({ installId, folder, files, there, load, onProgress }: Putting): Promise<FolderRecord> {
  const expected = new Map(there.map(({ path, sha256 }) => [path.toLowerCase(), sha256]))
  const kept: KeptFile[] = []
  for (const { path, sha256 } of files) {
    // the disk itself knows whether names of another case are one
    const bytes = await readAt(folder, path)
    const was = bytes && (await hashOf(bytes))
    if (was && was !== expected.get(path.toLowerCase())) throw new FolderChanged(path)
    const replaced = was === sha256 ? undefined : was
    if (bytes && replaced) await keepBefore(installId, replaced, bytes)
    kept.push({ path, sha256, replaced, wasThere: was === sha256 })
  }
  const record: FolderRecord = { folder, name: folder.name, phase: 'writing', files: kept }
  await saveRecord(installId, record)
  try {
    for (const [done, { path, sha256, replaced, wasThere }] of kept.entries()) {
      onProgress?.(done, kept.length)
      if (wasThere) continue
      const bytes = await load(path)
      if ((await hashOf(bytes)) !== sha256) throw new Error(`${path} did not arrive as it was written; try again`)
      if ((await hashAt(folder, path)) !== replaced) throw new FolderChanged(path)
      await writeAt(folder, path, bytes)
    }
  } catch (error) {
    await takeOutOf(installId, record)
    throw error
  }
  const done: FolderRecord = { ...record, phase: 'in' }
  await saveRecord(installId, done)
  return done
}

/** What is not as it was written, read back file by file. */
export async function driftOf({ folder, files }: FolderRecord): Promise<Drift[]> {
  const there: PlacedFile[] = []
  for (const { path } of files) {
    const sha256 = await hashAt(folder, path)
    if (sha256) there.push({ path, sha256 })
  }
  return findDrift(files, there)
}

/** Writes what has drifted as it was. @returns How many files. */
export async function repairIn({ folder, ...record }: FolderRecord, load: LoadFile): Promise<number> {
  const drift = await driftOf({ folder, ...record })
  for (const { path } of drift) await writeAt(folder, path, await load(path))
  return drift.length
}

/**
 * Takes out what was put in, and gives back what that replaced; what somebody has changed since stays.
 * @returns The paths of what stayed.
 */
export async function takeOutOf(installId: string, record: FolderRecord): Promise<string[]> {
  const stayed: string[] = []
  for (const file of record.files) if (!(await giveBack(installId, record, file))) stayed.push(file.path)
  await dropRecord(installId, record)
  return stayed
}

/** @returns Whether the file is as it was before it was put in. */
async function giveBack(
  installId: string,
  { folder, phase }: Pick<FolderRecord, 'folder' | 'phase'>,
  { path, sha256, replaced, wasThere }: KeptFile,
): Promise<boolean> {
  if (wasThere) return true
  const there = await readAt(folder, path)
  const now = there && (await hashOf(there))
  // a new file is there, and empty, before it is written
  const isBegun = phase === 'writing' && there?.byteLength === 0 && !replaced
  if (now !== sha256 && !isBegun) return now === replaced
  const bytes = replaced && (await readBefore(installId, replaced))
  if (replaced && !bytes) return false
  if (bytes) await writeAt(folder, path, bytes)
  else await removeAt(folder, path)
  return true
}

/**
 * Brings a folder to other files of the same install: only what changed is written, what is no longer among them goes.
 * What has been done is noted file by file, so that whatever breaks off can go on.
 * @returns How many files were written, and how many went.
 */
export async function bringUpToDate(
  installId: string,
  record: FolderRecord,
  files: readonly InstallFile[],
  load: LoadFile,
): Promise<{ written: number; gone: number }> {
  const { folder } = record
  let kept = record.files
  const note = async (next: KeptFile[]) => {
    kept = next
    await saveRecord(installId, { ...record, files: kept })
  }
  const was = new Map(record.files.map((file) => [file.path, file]))
  let [written, gone] = [0, 0]
  for (const { path, sha256 } of files) {
    const old = was.get(path)
    if (old?.sha256 === sha256) continue
    const now = await readAt(folder, path)
    const nowSha = now && (await hashOf(now))
    // what somebody else has put there is given back once this goes
    const isOurs = old !== undefined && nowSha === old.sha256 && !old.wasThere
    const replaced = isOurs ? old.replaced : nowSha
    if (!isOurs && now && nowSha) await keepBefore(installId, nowSha, now)
    await writeAt(folder, path, await load(path))
    await note([...kept.filter((each) => each.path !== path), { path, sha256, replaced, wasThere: false }])
    written++
  }
  const stays = new Set(files.map(({ path }) => path))
  for (const file of record.files) {
    if (stays.has(file.path)) continue
    await giveBack(installId, record, file)
    await note(kept.filter(({ path }) => path !== file.path))
    gone++
  }
  return { written, gone }
}

/** What went wrong, in one sentence with the next step. */
export function sentenceOn(error: unknown, name: string): string {
  if (error instanceof FolderChanged)
    return `In "${name}", ${error.message} was changed by somebody else just now; nothing was changed. Look at it and try again.`
  const kind = error instanceof DOMException ? error.name : ''
  if (kind === 'QuotaExceededError')
    return `There is no room left in "${name}"; it is as it was. Make room and try again.`
  if (kind === 'NotAllowedError' || kind === 'NoModificationAllowedError' || kind === 'SecurityError')
    return `"${name}" may not be changed; it is as it was. Allow it when the browser asks, or choose another folder.`
  if (kind === 'NotFoundError') return `"${name}" is not there any more. Choose the folder again.`
  return error instanceof Error ? error.message : String(error)
}
