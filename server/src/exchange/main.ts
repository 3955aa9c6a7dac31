import { serve } from '@hono/node-server'
import { exchangePages } from './pages.ts'
import { Shed } from './shed.ts'
import { stock } from './stock.ts'

const NAME = 'Barter Shed'

/** The stand-in exchange: makers share releases with strangers there, on this machine alone. */
async function main(): Promise<void> {
  const { SATCHEL_EXCHANGE_FOLDER: folder, SATCHEL_EXCHANGE_STOCK: isStocked } = process.env
  if (!folder) throw new Error('The setting SATCHEL_EXCHANGE_FOLDER is missing; ./start sets it.')
  const shed = new Shed(folder, NAME)
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
