import { readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { Log } from '../log.ts'

const EVERY_MS = 10 * 60 * 1000
/** What was used since then stays: somebody may be about to open it. */
const FRESH_MS = 5 * 60 * 1000
const PARTIAL = /\.partial$/

/** A cached file, and when it was used last. */
type Cached = { path: string; bytes: number; usedAt: number }

/**
 * Keeps the folders of a cache within a budget, by what was not used for the longest time. What a server left that ended in
 * the middle goes first.
 * @param leftovers Folders of scratch files, which are nobody's once a server starts.
 * @returns How to stop looking.
 */
export async function keepCache(
  {
    folders,
    leftovers,
    budgetBytes,
  }: { folders: readonly string[]; leftovers: readonly string[]; budgetBytes: number },
  log: Log,
): Promise<() => void> {
  for (const folder of leftovers) await rm(folder, { recursive: true, force: true })
  for (const { path } of await listFiles(folders)) if (PARTIAL.test(path)) await rm(path, { force: true })
  const look = () =>
    pruneCache(folders, budgetBytes, Date.now()).catch((error: Error) => log.error({ err: error }, 'pruning the cache'))
  await look()
  const timer = setInterval(() => void look(), EVERY_MS).unref()
  return () => clearInterval(timer)
}

/** Deletes what was not used for the longest time, until the rest fits. @returns How many bytes are left. */
export async function pruneCache(folders: readonly string[], budgetBytes: number, now: number): Promise<number> {
  const files = (await listFiles(folders)).sort((a, b) => a.usedAt - b.usedAt)
  let total = files.reduce((sum, { bytes }) => sum + bytes, 0)
  for (const { path, bytes, usedAt } of files) {
    if (total <= budgetBytes || now - usedAt < FRESH_MS) break
    await rm(path, { force: true })
    total -= bytes
  }
  return total
}

async function listFiles(folders: readonly string[]): Promise<Cached[]> {
  const files: Cached[] = []
  for (const folder of folders) {
    for (const name of await readdir(folder).catch(() => [])) {
      const path = join(folder, name)
      const found = await stat(path).catch(() => undefined)
      if (found?.isFile()) files.push({ path, bytes: found.size, usedAt: Math.max(found.atimeMs, found.mtimeMs) })
    }
  }
  return files
}
