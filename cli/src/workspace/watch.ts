import { createHash } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { readdir, realpath, stat } from 'node:fs/promises'
import { hostname } from 'node:os'
import { basename, join, relative, resolve } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { FolderFollower, type Ports, together } from '@satchel/core/followed/follow'
import type { Listed } from '@satchel/core/followed/steady'
import { type DayCounts, isQuiet, NOTHING_TOLD, tellDay } from '@satchel/core/followed/told'
import { FOLLOWED_FILES_MAX } from '@satchel/core/forms/followed'
import { EXIT, FileProblem, toFileProblem } from '../problems.ts'
import { say, sayJson, shown, warn } from '../say.ts'
import { Anything, Following, Looked, Made } from './answers.ts'
import { type Where, Workspace, WorkspaceProblem } from './connection.ts'

/** How often a folder is looked at, and how long a file lies still before it is read. */
const LOOK_MS = 2_000
/** Listing a large folder takes a while: the next look comes after so many times as long. */
const PAUSE_TIMES = 10
/** Where the workspace does not answer it is asked again, later and later. */
const AGAIN_MS = 5_000
const AGAIN_MAX_MS = 60_000

type Options = Where & { name?: string; once: boolean; json: boolean }

/**
 * Follows a folder: changed files become new versions of their brushes, new ones wait in the ledger. Goes on until it is stopped; with `once` it
 * ends when all that lies there is settled.
 */
export async function watch(folder: string, options: Options): Promise<number> {
  const there = new Workspace(options)
  await listFolder(folder)
  const name = options.name ?? basename(resolve(folder))
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
  const { id } = await there.post('/api/followed', Made, { name, by: 'program', zone, place: await placeOf(folder) })
  const follower = new FolderFollower(portsOf(there, folder, id))
  if (options.once) {
    const brought = await settle(follower)
    if (options.json) sayJson({ folder: id, ...brought })
    else say(tellDay(brought))
    return EXIT.done
  }
  if (!options.json) say(`"${name}" is followed; Ctrl-C ends it.`)
  return goOn(follower, options)
}

/** What a folder is known by: this computer, and where on it the folder lies. */
const placeOf = async (folder: string): Promise<string> =>
  createHash('sha256')
    .update(`${hostname()}\n${await realpath(folder)}`)
    .digest('hex')

/** Looks until nothing moves any more. */
async function settle(follower: FolderFollower): Promise<DayCounts> {
  let all = NOTHING_TOLD
  for (;;) {
    const { brought, isMoving } = await follower.look(performance.now())
    if (brought) all = together(all, brought)
    if (!isMoving) return all
    await sleep(LOOK_MS)
  }
}

/** Looks again and again. What may be over by itself is said once, and waited for. */
async function goOn(follower: FolderFollower, { json }: Options): Promise<never> {
  let [againMs, isLost] = [AGAIN_MS, false]
  for (;;) {
    const startMs = performance.now()
    try {
      const { brought } = await follower.look(startMs)
      if (isLost) warn('It goes on.')
      ;[againMs, isLost] = [AGAIN_MS, false]
      if (brought && !isQuiet(brought)) {
        const at = new Date()
        if (json) console.log(shown(JSON.stringify({ at: at.toISOString(), ...brought })))
        else say(`${at.toLocaleTimeString('en-GB', { timeStyle: 'short' })}  ${tellDay(brought)}`)
      }
    } catch (error) {
      if (!(error instanceof FileProblem) || (error instanceof WorkspaceProblem && !error.mayPass)) throw error
      if (!isLost) warn(`${error.message} It is tried again until it works.`)
      isLost = true
      await sleep(againMs)
      againMs = Math.min(AGAIN_MAX_MS, 2 * againMs)
    }
    await sleep(Math.max(LOOK_MS, PAUSE_TIMES * (performance.now() - startMs)))
  }
}

const portsOf = (there: Workspace, folder: string, id: string): Ports => ({
  list: () => listFolder(folder),
  hash: (file) => hashStill(folder, file),
  look: (files) => there.post(`/api/followed/${id}/look`, Looked, { files }),
  how: () => there.get(`/api/followed/${id}`, Following),
  pause: (ms) => sleep(ms),
  async send(path, sha256) {
    const query = new URLSearchParams({ path, sha256 })
    try {
      await there.sendFile(`/api/followed/${id}/files?${query}`, join(folder, path), Anything)
      return true
    } catch (error) {
      // it was changed, or is gone: the next look tells
      if (error instanceof WorkspaceProblem ? error.status === 409 : error instanceof FileProblem) return false
      throw error
    }
  },
})

/** All files of a folder. What begins with a dot is not meant for others; what is gone while it is listed was there a moment ago. */
async function listFolder(folder: string): Promise<Listed[]> {
  try {
    const entries = await readdir(folder, { recursive: true, withFileTypes: true })
    const paths = entries
      .filter((entry) => entry.isFile())
      .map((entry) => relative(folder, join(entry.parentPath, entry.name)))
      .filter((path) => !path.split('/').some((part) => part.startsWith('.')))
    if (paths.length > FOLLOWED_FILES_MAX)
      throw new FileProblem(folder, `it holds ${paths.length} files, and ${FOLLOWED_FILES_MAX} are followed at most; follow a part of it.`) // biome-ignore format: one sentence
    const files: Listed[] = []
    for (const path of paths.sort()) {
      const { size, mtimeMs } = await stat(join(folder, path)).catch(() => ({ size: 0, mtimeMs: 0 }))
      files.push({ path, sizeBytes: size, modifiedMs: mtimeMs })
    }
    return files
  } catch (error) {
    throw toFileProblem(folder, error)
  }
}

/** The hash of a file that is as it was listed when all of it was read. */
async function hashStill(folder: string, { path, sizeBytes, modifiedMs }: Listed): Promise<string | undefined> {
  const file = join(folder, path)
  try {
    const hash = createHash('sha256')
    for await (const piece of createReadStream(file)) hash.update(piece as Uint8Array)
    const { size, mtimeMs } = await stat(file)
    return size === sizeBytes && mtimeMs === modifiedMs ? hash.digest('hex') : undefined
  } catch {
    return undefined
  }
}
