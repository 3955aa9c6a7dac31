import type { AppDeps } from '../app-deps.ts'
import { listCells, listFitBrushes } from '../db/fit.ts'
import { listChoices } from '../db/fit-choices.ts'
import { allDestinations } from './destinations.ts'
import { fitKey } from './fit-input.ts'

/** A cell of the matrix as far as it is known; nothing is said of one that is still to be measured. */
export type KnownCell = {
  brushId: string
  destinationId: string
  /** A score below 0 is that of one that cannot be measured. */
  said: { score: number; leftCount: number } | null
}

/** The cells of some brushes at every destination. What is not known is measured, the first of it first, where that is asked for. */
export async function knownCells(
  deps: AppDeps,
  workspaceId: string,
  brushIds: readonly string[],
  { measures }: { measures: boolean },
): Promise<KnownCell[]> {
  const { db, fit } = deps
  const destinations = await allDestinations(db, workspaceId)
  const ids = destinations.map(({ id }) => id)
  const [brushes, cells, choicesOf] = await Promise.all([
    listFitBrushes(db, workspaceId, brushIds),
    listCells(db, workspaceId, brushIds, ids),
    listChoices(db, workspaceId, ids, brushIds),
  ])
  const known = new Map(cells.map((cell) => [`${cell.brushId} ${cell.destinationId}`, cell]))
  const byId = new Map(brushes.map((brush) => [brush.id, brush]))
  const wishes = brushIds.flatMap((brushId) => {
    const brush = byId.get(brushId)
    if (!brush) return []
    const to = destinations.map(({ id: destinationId, description: destination }) => {
      const choices = choicesOf(brushId, destinationId)
      const key = fitKey(deps, brush, destination, choices)
      const cell = known.get(`${brushId} ${destinationId}`)
      return { destinationId, destination, choices, key, fresh: cell?.key === key ? cell : undefined }
    })
    return [{ brush, to }]
  })
  if (measures)
    fit.ask(
      wishes.flatMap(({ brush, to }) => {
        const unknown = to.filter(({ key, fresh }) => !fresh && !fit.hasFailed(key))
        return unknown.length > 0 ? [{ workspaceId, brush, to: unknown }] : []
      }),
    )
  return wishes.flatMap(({ brush: { id: brushId }, to }) =>
    to.map(({ destinationId, key, fresh }) => {
      const { score, leftCount } = fresh ?? (fit.hasFailed(key) ? FAILED : UNKNOWN)
      return { brushId, destinationId, said: score === undefined ? null : { score, leftCount } }
    }),
  )
}

const FAILED = { score: -1, leftCount: 0 }
const UNKNOWN = { score: undefined, leftCount: 0 }
