import type { Choices } from '@satchel/core/destinations/fit-state'
import type { FitFile } from '@satchel/core/destinations/write-files'
import { listCells, listChoices, listFitBrushes, type StoredFitBrush } from '../db/fit.ts'
import { findInstall, type Install, setInstallFiles, setInstallState } from '../db/installs.ts'
import { entryOf } from '../db/many.ts'
import type { Deps } from '../deps.ts'
import { type JobHandler, JobRefused, JobStopped } from '../queue/queue.ts'
import { findAnyDestination } from './destinations.ts'
import { fitKey, readFitInput } from './fit-input.ts'
import { measureBrush } from './measurer.ts'

/** Brushes that are written at once. */
const PART = 8

export type StoredFitFile = { brushId: string; path: string; blobSha: StoredBlobSha; sizeBytes: number }
type StoredBlobSha = Awaited<ReturnType<Deps['blobs']['put']>>['sha256']

/** Writes the files of an install and keeps them; the folder of the app stays as it is until somebody puts them in. */
export const prepareInstallJob = (deps: Deps): JobHandler<'fit-install'> => ({
  async run({ job: { workspaceId, subjectId }, progress, signal }) {
    const install = await findInstall(deps.db, workspaceId, subjectId)
    if (install?.state !== 'preparing') throw new JobStopped()
    const { files, refused } = await writeBrushes(deps, install, install.brushIds, { avoid: [], progress, signal })
    signal.throwIfAborted()
    await deps.db.transaction(async (tx) => {
      await setInstallFiles(tx, install, files)
      await setInstallState(tx, install, { state: 'ready', refused })
    })
    await deps.events.publish({ workspaceId, topic: 'fit' })
  },
})

type Writing = {
  /** Paths that are taken: names go round them. */
  avoid: readonly string[]
  progress?: (done: number, total: number) => void
  signal?: AbortSignal
}

type Written = { files: StoredFitFile[]; refused: Install['refused'] }

/**
 * The files of brushes for an install's destination, stored and in no folder yet. A brush that cannot be written stops no
 * other.
 * @throws {JobRefused} If the destination is gone.
 */
export async function writeBrushes(
  deps: Deps,
  { workspaceId, destinationId, name }: Install,
  brushIds: readonly string[],
  { avoid, progress, signal }: Writing,
): Promise<Written> {
  const destination = await findAnyDestination(deps.db, workspaceId, destinationId)
  if (!destination) throw new JobRefused('Its destination is gone; choose another one.')
  const files: StoredFitFile[] = []
  const refused: Install['refused'] = []
  let grains: [string, string][] = []
  const write = async (brushes: StoredFitBrush[]): Promise<void> => {
    const written = await deps.workers.run('writeFit', {
      ...{ destination, library: name, grains },
      avoid: [...avoid, ...files.map(({ path }) => path)],
      brushes: await Promise.all(
        brushes.map(async (brush) => ({
          brush: await readFitInput(deps, workspaceId, brush),
          choices: await findChoices(deps, workspaceId, destinationId, brush),
        })),
      ),
    })
    if ('refused' in written) {
      const [only] = brushes
      if (only && brushes.length === 1) refused.push({ brushId: only.id, name: only.name, why: written.refused })
      // one of them cannot be written: each is tried by itself
      else for (const brush of brushes) await write([brush])
      return
    }
    grains = written.grains
    for (const [i, some] of written.files.entries())
      for (const file of some) files.push(await store(deps, workspaceId, entryOf(brushes, i).id, file))
  }
  for (let at = 0; at < brushIds.length; at += PART) {
    signal?.throwIfAborted()
    await write(await listFitBrushes(deps.db, workspaceId, brushIds.slice(at, at + PART)))
    progress?.(Math.min(brushIds.length, at + PART), brushIds.length)
  }
  return { files, refused }
}

async function store(
  { db, blobs }: Deps,
  workspaceId: string,
  brushId: string,
  { path, bytes }: FitFile,
): Promise<StoredFitFile> {
  const { sha256, sizeBytes } = await blobs.put(db, workspaceId, bytes, 'application/octet-stream')
  return { brushId, path, blobSha: sha256, sizeBytes }
}

/** The answers with which a brush goes there: the curator's own, and else those that are most alike. */
async function findChoices(
  deps: Deps,
  workspaceId: string,
  destinationId: string,
  brush: StoredFitBrush,
): Promise<Choices> {
  const destination = await findAnyDestination(deps.db, workspaceId, destinationId)
  if (!destination) return {}
  const choices = (await listChoices(deps.db, workspaceId, [destinationId], [brush.id]))(brush.id, destinationId)
  const key = fitKey(deps, brush, destination, choices)
  const [known] = await listCells(deps.db, workspaceId, [brush.id], [destinationId])
  const wish = { workspaceId, brush, to: [{ destinationId, destination, choices, key }] }
  const [cell] = known?.key === key ? [known] : await measureBrush(deps, wish)
  const ways = cell && !('refused' in cell.result) ? cell.result.ways : []
  return { ...Object.fromEntries(ways.map(({ name, chosen }) => [name, chosen])), ...choices }
}
