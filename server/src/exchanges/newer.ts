import { isOlder } from '@satchel/core/releases/version'
import pMap from 'p-map'
import type { AppDeps } from '../app-deps.ts'
import { listTakenThere, noteSeenThere } from '../db/exchanges.ts'
import { Exchange, ExchangeProblem } from './ask.ts'

/** A pack that was taken from an exchange, of which that has a newer release. */
export type NewerThere = { title: string; had: string; now: string; host: string; exchange: string; item: string }

const AT_ONCE = 4

/** Packs that have a newer release where they came from, as far as that was seen. */
export async function listNewerThere(
  { db, exchanges }: Pick<AppDeps, 'db' | 'exchanges'>,
  workspaceId: string,
): Promise<NewerThere[]> {
  const hosts = new Set(exchanges.map((origin) => new URL(origin).host))
  return (await listTakenThere(db, workspaceId)).flatMap(({ title, release, exchange, seenThere }) =>
    exchange && seenThere && hosts.has(exchange.host) && isOlder(release, seenThere)
      ? [{ title, had: release, now: seenThere, host: exchange.host, exchange: exchange.title, item: exchange.item }]
      : [],
  )
}

/** Asks exchanges what they have of packs that were taken from them. What does not answer is asked another time. */
export async function lookForNewer(deps: AppDeps, workspaceId: string): Promise<void> {
  const taken = await listTakenThere(deps.db, workspaceId)
  await pMap(
    taken,
    async ({ id, exchange, seenThere }) => {
      const origin = deps.exchanges.find((each) => new URL(each).host === exchange?.host)
      if (!origin || !exchange) return
      try {
        const there = new Exchange(origin, deps)
        const { items } = await there.ask('/exchange.json', 'card')
        const { _satchel } = await there.ask(`${items}/${exchange.item}.json`, 'item')
        if (_satchel.version !== seenThere) await noteSeenThere(deps.db, workspaceId, id, _satchel.version)
      } catch (error) {
        if (!(error instanceof ExchangeProblem)) throw error
      }
    },
    { concurrency: AT_ONCE },
  )
}
