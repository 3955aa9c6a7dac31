import { listAllBrushIds, listCells, listChoices, listFitBrushes } from '../db/fit.ts'
import type { Deps } from '../deps.ts'
import type { JobHandler } from '../queue/queue.ts'
import { allDestinations } from './destinations.ts'
import { fitKey } from './fit-input.ts'
import { measureCell } from './measurer.ts'

/** Brushes whose recipes are read at once. */
const PART = 50
/** How often the page is told, in cells. */
const TELL_EVERY = 10

/** Measures every brush of the library for every destination; what is known already is passed over, so it can go on later. */
export const fitAllJob = (deps: Deps): JobHandler<'fit-all'> => ({
  async run({ job: { workspaceId }, progress, signal }) {
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
      for (const brush of brushes) {
        // the destinations of one brush go side by side, one to a thread
        await Promise.all(
          destinations.map(async ({ id: destinationId, description: destination }) => {
            signal.throwIfAborted()
            const choices = choicesOf(brush.id, destinationId)
            const key = fitKey(deps, brush, destination, choices)
            if (known.get(`${brush.id} ${destinationId}`) !== key)
              await measureCell(deps, { workspaceId, brush, destinationId, destination, choices, key })
            progress(++done, total)
          }),
        )
        if (done % TELL_EVERY < destinations.length) await deps.events.publish({ workspaceId, topic: 'fit' })
      }
    }
    await deps.events.publish({ workspaceId, topic: 'fit' })
  },
})
