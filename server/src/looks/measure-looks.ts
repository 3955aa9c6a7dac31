import { foundParts } from '@satchel/core/brush/parts'
import { NOTHING_PAINTED } from '@satchel/core/looks/stroke-look'
import { sql } from 'drizzle-orm'
import pMap from 'p-map'
import type { AppDeps } from '../app-deps.ts'
import { askAs } from '../asking.ts'
import { findMaterials } from '../db/materials.ts'
import { type LoadedBrush, loadBrushes } from '../db/releases.ts'
import { countStaleLooks, hasStaleLooks, listStaleLooks, type NewLook, noteLooks } from '../db/stroke-looks.ts'
import type { Deps } from '../deps.ts'
import { TaskGivenUp } from '../errors.ts'
import type { JobContext, JobHandler } from '../queue/queue.ts'

/** Brushes that are measured and noted together: a job that is stopped begins again with those. */
const AT_ONCE = 100
/** Pages are told of what was noted no more often than this. */
const TELL_MS = 2_000

/** Measures how strokes of a library look that were not measured as they are now; goes on where it was stopped. */
export const measureLooksJob = (deps: Deps): JobHandler<'measure-looks'> => ({
  run: (context) => askAs({ isBehind: true }, () => measureLooks(deps, context)),
  // what came in while it ran was asked for, too, and is this very job by its subject
  more: ({ workspaceId }) => hasStaleLooks(deps.db, workspaceId),
})

/** Has the looks of a library measured that were not yet. */
export const measureNow = ({ jobs }: Pick<AppDeps, 'jobs'>, workspaceId: string) =>
  jobs.add({ workspaceId, kind: 'measure-looks', subjectId: workspaceId, title: 'Measure new strokes', payload: {} })

async function measureLooks(
  deps: Deps,
  { job: { workspaceId }, progress, signal }: JobContext<'measure-looks'>,
): Promise<void> {
  const { db, events, workers } = deps
  const total = await countStaleLooks(db, workspaceId)
  let toldAt = performance.now()
  for (let done = 0; ; ) {
    progress(Math.min(done, total), total)
    const ids = await listStaleLooks(db, workspaceId, AT_ONCE)
    const brushes = await loadBrushes(db, workspaceId, sql`(select unnest(${sql.param(ids)}::uuid[]))`)
    if (brushes.length === 0) break
    const looks = await pMap(brushes, (brush) => lookAt(deps, workspaceId, brush), {
      concurrency: workers.threads,
      signal,
    })
    signal.throwIfAborted()
    await noteLooks(db, workspaceId, looks)
    done += ids.length
    if (performance.now() - toldAt > TELL_MS) {
      await events.publish({ workspaceId, topic: 'looks' })
      toldAt = performance.now()
    }
  }
  progress(total, total)
}

async function lookAt({ db, blobs, workers }: Deps, workspaceId: string, brush: LoadedBrush): Promise<NewLook> {
  const { id, version, recipe, frames } = brush
  const grainSha = recipe.ground.grain?.sha256
  const [grain] = grainSha ? await findMaterials(db, workspaceId, 'grain', [grainSha]) : []
  const look = await workers
    .run('measureLook', {
      frames: await Promise.all(frames.map(({ blobSha }) => blobs.read(workspaceId, blobSha))),
      grain: grain && (await blobs.read(workspaceId, grain.blobSha)),
      recipe,
    })
    .catch((error: unknown) => {
      // one that is too much for it is no reason to try it for ever, or to leave the others
      if (error instanceof TaskGivenUp) return NOTHING_PAINTED
      throw error
    })
  return { ...look, brushId: id, version, uses: foundParts(recipe) }
}
