import { serve } from '@hono/node-server'
import { kioskPages } from './pages.ts'
import { Till } from './till.ts'

/** What is on the shelf at first, where the demo is shown. */
const DEMO_GOODS = [{ code: 'saltmarsh-sketching', title: 'Saltmarsh Sketching', price: '12.00' }]

/** The stand-in shop: it sells packs on this machine alone, and tells of each sale by signed webhooks. */
async function main(): Promise<void> {
  const { SATCHEL_KIOSK_FOLDER: folder, SATCHEL_KIOSK_TELLS: address, SATCHEL_KIOSK_SECRET: secret } = process.env
  if (!folder) throw new Error('The setting SATCHEL_KIOSK_FOLDER is missing; ./start sets it.')
  const till = new Till(folder, {
    ...(address && secret ? { tells: { address, secret } } : {}),
    ...(process.env.SATCHEL_KIOSK_DEMO ? { products: DEMO_GOODS } : {}),
  })
  let own = ''
  const pages = kioskPages(till, (host) => host === own)
  serve({ fetch: pages.fetch, hostname: '127.0.0.1', port: 0 }, ({ port }) => {
    own = `127.0.0.1:${port}`
    process.send?.({ page: `http://${own}` })
  })
  for (const sign of ['SIGINT', 'SIGTERM'] as const) process.once(sign, () => process.exit(0))
  // whoever started it is gone
  process.once('disconnect', () => process.exit(0))
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error)
  process.exit(1)
})
