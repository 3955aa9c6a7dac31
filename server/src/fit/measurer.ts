import type { Destination } from '@satchel/core/destinations/destination'
import type { Choices } from '@satchel/core/destinations/fit-state'
import type { FitCell, StoredFitBrush } from '../db/fit.ts'
import { saveCell } from '../db/fit.ts'
import type { Deps } from '../deps.ts'
import { readFitInput } from './fit-input.ts'

/** One cell to measure. */
export type CellWish = {
  workspaceId: string
  brush: StoredFitBrush
  destinationId: string
  destination: Destination
  choices: Choices
  key: string
}

/** Cells that wait at most: what nobody has asked for again since then is not measured. */
const WAITING_MOST = 5_000

/**
 * Measures cells in the worker threads, those asked for last first, each once however often it is asked for. Nothing of it
 * has to outlive the server: a page asks again for what is not there.
 */
export class FitMeasurer {
  readonly #deps: Deps
  readonly #waiting = new Map<string, CellWish>()
  readonly #running = new Map<string, Promise<void>>()
  #isClosed = false

  constructor(deps: Deps) {
    this.#deps = deps
  }

  /** Asks for cells; the first of them comes first. */
  ask(wishes: readonly CellWish[]): void {
    for (const wish of [...wishes].reverse()) {
      const name = nameOf(wish)
      if (this.#running.has(name)) continue
      // asked for again, it goes to the end of the list, from where work is taken
      this.#waiting.delete(name)
      this.#waiting.set(name, wish)
    }
    for (const name of this.#waiting.keys()) {
      if (this.#waiting.size <= WAITING_MOST) break
      this.#waiting.delete(name)
    }
    this.#begin()
  }

  #begin(): void {
    // one thread stays free for pictures
    const most = Math.max(1, this.#deps.workers.threads - 1)
    while (!this.#isClosed && this.#running.size < most) {
      const last = [...this.#waiting].at(-1)
      if (!last) return
      const [name, wish] = last
      this.#waiting.delete(name)
      const running = measureCell(this.#deps, wish)
        .then(() => this.#deps.events.publish({ workspaceId: wish.workspaceId, topic: 'fit' }))
        .catch((error: Error) => this.#deps.log.error({ err: error, brush: wish.brush.id }, 'measuring a cell'))
        .finally(() => {
          this.#running.delete(name)
          this.#begin()
        })
      this.#running.set(name, running)
    }
  }

  /** Lets what runs come to its end; what waits is dropped. */
  async close(): Promise<void> {
    this.#isClosed = true
    this.#waiting.clear()
    await Promise.all(this.#running.values())
  }
}

const nameOf = ({ brush, destinationId, key }: CellWish) => `${brush.id} ${destinationId} ${key}`

/** Measures one cell and keeps what it says. @returns The cell. */
export async function measureCell(
  deps: Deps,
  { workspaceId, brush, destinationId, destination, choices, key }: CellWish,
): Promise<Pick<FitCell, 'score' | 'result'>> {
  const input = await readFitInput(deps, workspaceId, brush)
  const measured = await deps.workers.run('measureFit', { brush: input, destination, choices })
  const cell = 'refused' in measured ? { score: -1, result: measured } : measured
  const leftCount = 'refused' in cell.result ? 0 : cell.result.left.length
  await saveCell(deps.db, { workspaceId, brushId: brush.id, destinationId, key, leftCount, ...cell })
  return cell
}
