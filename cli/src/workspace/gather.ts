import { readdir, stat } from 'node:fs/promises'
import { basename, join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import type { InferOutput } from 'valibot'
import { EXIT, FileProblem, toFileProblem } from '../problems.ts'
import { say, sayJson } from '../say.ts'
import { Anything, Ledger, Lines, Made, Taken } from './answers.ts'
import { type Where, Workspace, WorkspaceProblem } from './connection.ts'

const LOOK_MS = 500
/** Reading that has not gone on for so long is given up here; the ledger stays as it is. */
const STILL_MS = 10 * 60_000
const LINES_PAGE = 200
/** Files of one drop: as many as an archive may hold. */
const FILES_MAX = 20_000

type Options = Where & { take: boolean; json: boolean }
type Found = { file: string; path: string }

/** Sends files, and all that lies in folders, to the ledger, waits until they are read, and takes them in where that is wished. */
export async function gather(paths: readonly string[], options: Options): Promise<number> {
  const there = new Workspace(options)
  const files = (await Promise.all(paths.map(filesOf))).flat()
  if (files.length === 0) throw new FileProblem(paths[0] ?? '', 'it holds no files; name a folder that does.')
  if (files.length > FILES_MAX)
    throw new FileProblem(
      paths[0] ?? '',
      `it holds ${files.length} files, and ${FILES_MAX} are sent at once; send a part of it.`,
    )
  const { id } = await there.post('/api/gathers', Made)
  // what others have put there is theirs to decide on
  if (options.take && (await there.get(`/api/gathers/${id}`, Ledger)).files.total > 0)
    throw new WorkspaceProblem(
      there.shown,
      'other files wait in the ledger; take them in or drop them on the page first, or send these without --take.',
    )
  for (const { file, path } of files)
    await there.sendFile(`/api/gathers/${id}/files?path=${encodeURIComponent(path)}`, file, Anything)
  const { tally } = await readThrough(there, id)
  const refused = tally.refuse > 0 ? await refusedOf(there, id) : []
  const taken = options.take ? await there.post(`/api/gathers/${id}/take`, Taken) : undefined
  const left = { ledger: id, files: files.length, take: tally.take, skip: tally.skip, refuse: tally.refuse }
  if (options.json) sayJson({ ...left, refused, taken: taken?.brushes ?? null })
  else {
    say(`${files.length} files sent: ${tally.take} to take, ${tally.skip} to skip, ${tally.refuse} refused.`)
    for (const { path, reason } of refused) say(`  ${path}: ${reason}`)
    say(taken ? `${taken.brushes ?? 0} brushes taken in.` : 'They wait in the ledger; --take takes them in.')
  }
  return EXIT.done
}

/** A file, or all files of a folder, in the order of their names. What begins with a dot is not meant for others. */
async function filesOf(path: string): Promise<Found[]> {
  try {
    if (!(await stat(path)).isDirectory()) return [{ file: path, path: basename(path) }]
    const entries = await readdir(path, { recursive: true, withFileTypes: true })
    const inside = entries
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name))
      .map((file) => ({ file, path: join(basename(path), file.slice(join(path, '/').length)) }))
    return inside
      .filter(({ path: within }) => !within.split('/').some((part) => part.startsWith('.')))
      .sort((a, b) => (a.path < b.path ? -1 : 1))
  } catch (error) {
    throw toFileProblem(path, error)
  }
}

/** Waits until all that was sent is read. */
async function readThrough(there: Workspace, id: string): Promise<InferOutput<typeof Ledger>> {
  let [seen, sinceMs] = ['', Date.now()]
  for (;;) {
    const ledger = await there.get(`/api/gathers/${id}`, Ledger)
    if (ledger.reading === null && ledger.files.read >= ledger.files.total) return ledger
    const now = JSON.stringify([ledger.files, ledger.reading])
    if (now !== seen) [seen, sinceMs] = [now, Date.now()]
    else if (Date.now() - sinceMs > STILL_MS)
      throw new WorkspaceProblem(there.shown, 'reading does not go on; the files lie in the ledger, look there.')
    await sleep(LOOK_MS)
  }
}

/** The lines that cannot be taken, and why. */
async function refusedOf(there: Workspace, id: string): Promise<{ path: string; reason: string }[]> {
  const refused: { path: string; reason: string }[] = []
  for (let from = 0; ; from += LINES_PAGE) {
    const { lines } = await there.get(`/api/gathers/${id}/lines?from=${from}&limit=${LINES_PAGE}`, Lines)
    for (const { path, outcome, reason } of lines) if (outcome === 'refuse') refused.push({ path, reason })
    if (lines.length < LINES_PAGE) return refused
  }
}
