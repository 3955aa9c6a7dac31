import { askAs } from '../asking.ts'
import { listAllBrushIds, listCells, listFitBrushes } from '../db/fit.ts'
import { listChoices } from '../db/fit-choices.ts'
import type { Deps } from '../deps.ts'
import type { JobContext, JobHandler } from '../queue/queue.ts'
import { allDestinations } from './destinations.ts'
import { fitKey } from './fit-input.ts'
import { measureBrush } from './measurer.ts'

/** Brushes whose recipes are read at once. */
const PART = 50

/** Measures every brush of the library for every destination; what is known already is passed over, so it can go on later. */
export const fitAllJob = (deps: Deps): JobHandler<'fit-all'> => ({
  // what somebody opens meanwhile comes before it
  run: (context) => askAs({ isBehind: true }, () => measureAll(deps, context)),
})

async function measureAll(
  deps: Deps,
  { job: { workspaceId }, progress, signal }: JobContext<'fit-all'>,
): Promise<void> {
  const destinations = await allDestinations(deps.db, workspaceId)
  const ids = destinations.map(({ id }) => id)
  const all = await listAllBrushIds(deps.db, workspaceId)
  const total = all.length * destinations.length
  let done = 0
  for (let at = 0; at < all.length; at += PART) {
    const some = all.slice(at, at + PART)
    const [brushes, cells, choicesOf] = await Promise.all([
      listFitBrushes(deps.db, workspaceId, some),
      listCells(deps.db, workspaceId, some, ids),
      listChoices(deps.db, workspaceId, ids, some),
    ])
    const known = new Map(cells.map((cell) => [`${cell.brushId} ${cell.destinationId}`, cell.key]))
    for (let n = 0; n < brushes.length; n += deps.workers.threads) {
      signal.throwIfAborted()
      await Promise.all(
        brushes.slice(n, n + deps.workers.threads).map(async (brush) => {
          const all = destinations.map(({ id: destinationId, description: destination }) => {
            const choices = choicesOf(brush.id, destinationId)
            return { destinationId, destination, choices, key: fitKey(deps, brush, destination, choices) }
          })
          const to = all.filter(({ destinationId, key }) => known.get(`${brush.id} ${destinationId}`) !== key)
          if (to.length > 0) await measureBrush(deps, { workspaceId, brush, to })
          done += all.length
          progress(done, total)
        }),
      )
      await deps.events.publish({ workspaceId, topic: 'fit' })
    }
  }
  await deps.events.publish({ workspaceId, topic: 'fit' })
}
