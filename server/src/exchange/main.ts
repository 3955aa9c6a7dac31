import { fileURLToPath } from 'node:url'
import { serve } from '@hono/node-server'
import { createWorkerPool } from '../workers/pool.ts'
import { exchangePages } from './pages.ts'
import { Shed } from './shed.ts'
import { stock } from './stock.ts'

const NAME = 'Barter Shed'
const WORKER = fileURLToPath(new URL('worker.mjs', import.meta.url))

/** The stand-in exchange: makers share releases with strangers there, on this machine alone. */
async function main(): Promise<void> {
  const { SATCHEL_EXCHANGE_FOLDER: folder, SATCHEL_EXCHANGE_STOCK: isStocked } = process.env
  if (!folder) throw new Error('The setting SATCHEL_EXCHANGE_FOLDER is missing; ./start sets it.')
  const workers = createWorkerPool(WORKER)
  const shed = new Shed(folder, NAME, (input) => workers.run('listPack', input))
  if (isStocked && shed.items.length === 0) await stock(shed)
  let own = ''
  const pages = exchangePages(shed, (host) => host === own)
  serve(
    { fetch: pages.fetch, hostname: '127.0.0.1', port: Number(process.env.SATCHEL_EXCHANGE_PORT ?? 0) },
    ({ port }) => {
      own = `127.0.0.1:${port}`
      process.send?.({ page: `http://${own}` })
    },
  )
  for (const sign of ['SIGINT', 'SIGTERM'] as const) process.once(sign, () => process.exit(0))
  // whoever started it is gone
  process.once('disconnect', () => process.exit(0))
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error)
  process.exit(1)
})
