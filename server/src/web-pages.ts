import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { serveStatic } from '@hono/node-server/serve-static'
import { Hono } from 'hono'

/** Where the built page has the place for its nonce. */
const NONCE_PLACE = 'STYLE-NONCE'

/** What no name of a file of ours holds: such addresses are a page's, or nobody's. */
const FOREIGN = /%00|%2e%2e|%5c/i

/** The page itself goes out with a nonce, by whatever name it is asked for. */
const isPage = (path: string) => path === '/' || path.startsWith('/index.html')

/**
 * The built page: its files by name, in the form made at the build that the browser can unpack, cached for ever where the
 * name holds a hash; and the page itself for every other address.
 */
export function webPages(folder: string) {
  const files = serveStatic({
    root: folder,
    precompressed: true,
    onFound: (path, c) => {
      const isHashed = path.includes('/assets/')
      c.header('cache-control', isHashed ? 'public, max-age=31536000, immutable' : 'no-cache')
      c.header('vary', 'accept-encoding', { append: true })
    },
  })
  const page = readFileSync(join(folder, 'index.html'), 'utf8')
  return (
    new Hono<{ Variables: { secureHeadersNonce?: string } }>()
      .get('*', (c, next) => (isPage(c.req.path) || FOREIGN.test(c.req.url) ? next() : files(c, next)))
      .get('/assets/*', (c) => c.text('Not found', 404))
      // each page has a nonce of its own, by which it may add styles; so it is the one file that is not sent as it lies there
      .get('*', (c) => {
        c.header('cache-control', 'no-cache')
        return c.html(page.replace(NONCE_PLACE, c.get('secureHeadersNonce') ?? ''))
      })
  )
}
