import type { Destination } from '@satchel/core/destinations/destination'
import type { Choices } from '@satchel/core/destinations/fit-state'
import { askAs } from '../asking.ts'
import type { FitCell, StoredFitBrush } from '../db/fit.ts'
import { saveCell } from '../db/fit.ts'
import { entryOf } from '../db/many.ts'
import type { Deps } from '../deps.ts'
import type { Urgency } from '../workers/task-limits.ts'
import { readFitInput } from './fit-input.ts'

/** A brush, and where it is to be measured. */
export type FitWish = {
  workspaceId: string
  brush: StoredFitBrush
  to: { destinationId: string; destination: Destination; choices: Choices; key: string }[]
}

/** Brushes that wait at most: what nobody has asked for again since then is not measured. */
const WAITING_MOST = 1_000
/** Faults that are remembered. */
const FAILED_MOST = 10_000

/**
 * Measures cells in the processes of the pool, those asked for last first, each once however often it is asked for. Nothing of it
 * has to outlive the server: a page asks again for what is not there.
 */
export class FitMeasurer {
  readonly #deps: Deps
  readonly #waiting = new Map<string, FitWish>()
  readonly #running = new Map<string, Promise<void>>()
  /** Keys of cells that failed by a fault of ours: they are not tried over and over, but when they are opened. */
  readonly #failed = new Set<string>()
  #isClosed = false

  constructor(deps: Deps) {
    this.#deps = deps
  }

  /** Asks for cells; the first of them comes first. */
  ask(wishes: readonly FitWish[]): void {
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

  hasFailed(key: string): boolean {
    return this.#failed.has(key)
  }

  #begin(): void {
    // one thread stays free for pictures
    const most = Math.max(1, this.#deps.workers.threads - 1)
    while (!this.#isClosed && this.#running.size < most) {
      const last = [...this.#waiting].at(-1)
      if (!last) return
      const [name, wish] = last
      this.#waiting.delete(name)
      // it goes on when whoever asked first has left: others may wait for it too
      const who = { workspaceId: wish.workspaceId, personId: undefined, signal: undefined }
      const running = askAs(who, () => measureBrush(this.#deps, wish))
        .then(() => this.#deps.events.publish({ workspaceId: wish.workspaceId, topic: 'fit' }))
        .catch((error: Error) => {
          this.#deps.log.error({ err: error, brush: wish.brush.id }, 'measuring a brush')
          if (this.#failed.size > FAILED_MOST) this.#failed.clear()
          for (const { key } of wish.to) this.#failed.add(key)
          return this.#deps.events.publish({ workspaceId: wish.workspaceId, topic: 'fit' }).catch(() => undefined)
        })
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

const nameOf = ({ brush, to }: FitWish) => [brush.id, ...to.map(({ key }) => key)].join(' ')

export type MeasuredCell = Pick<FitCell, 'destinationId' | 'score' | 'result'>

/** Measures a brush for some destinations, and keeps what that says. @returns The cells, one a destination. */
export async function measureBrush(deps: Deps, wish: FitWish, urgency?: Urgency): Promise<MeasuredCell[]> {
  const cells = await measureCells(deps, wish, urgency)
  for (const cell of cells) await saveCell(deps.db, cell)
  return cells
}

/**
 * Measures a brush for some destinations and keeps nothing of it: the matrix shows brushes as they are by now, and this one may
 * be of before. @returns The cells, one a destination.
 */
export async function measureCells(deps: Deps, { workspaceId, brush, to }: FitWish, urgency?: Urgency) {
  const input = await readFitInput(deps, workspaceId, brush)
  const measured = await deps.workers.run('measureFits', { brush: input, to }, { urgency })
  return measured.map((each, i) => {
    const { destinationId, key } = entryOf(to, i)
    const leftCount = 'refused' in each ? 0 : each.result.left.length
    const said = 'refused' in each ? { score: -1, result: each } : each
    return { workspaceId, brushId: brush.id, destinationId, key, leftCount, ...said }
  })
}
