import { serve } from '@hono/node-server'
import { LetterBox } from './letter-box.ts'
import { letterPages } from './pages.ts'

/**
 * The stand-in mailbox: a receiver of SMTP on this machine alone, with a page of what arrived. It says where both are to whoever
 * started it.
 */
async function main(): Promise<void> {
  const folder = process.env.SATCHEL_MAILBOX_FOLDER
  if (!folder) throw new Error('The setting SATCHEL_MAILBOX_FOLDER is missing; ./start sets it.')
  const box = new LetterBox(folder, () => process.env.SATCHEL_MAILBOX_RETURNS)
  const smtpPort = await box.listen()
  let address = ''
  const pages = letterPages(box, (host) => host === address)
  serve({ fetch: pages.fetch, hostname: '127.0.0.1', port: 0 }, ({ port }) => {
    address = `127.0.0.1:${port}`
    process.send?.({ smtp: `smtp://127.0.0.1:${smtpPort}`, page: `http://${address}` })
  })
  for (const sign of ['SIGINT', 'SIGTERM'] as const) process.once(sign, () => process.exit(0))
  // whoever started it is gone
  process.once('disconnect', () => process.exit(0))
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error)
  process.exit(1)
})
