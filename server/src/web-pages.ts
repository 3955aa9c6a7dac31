import { serveStatic } from '@hono/node-server/serve-static'
import { Hono } from 'hono'

/** What no name of a file of ours holds: such addresses are a page's, or nobody's. */
const FOREIGN = /%00|%2e%2e|%5c/i

/**
 * The built page: its files by name, in the form made at the build that the browser can unpack, cached for ever where the
 * name holds a hash; and the page itself for every other address.
 */
export function webPages(folder: string): Hono {
  const files = serveStatic({
    root: folder,
    precompressed: true,
    onFound: (path, c) => {
      const isHashed = path.includes('/assets/')
      c.header('cache-control', isHashed ? 'public, max-age=31536000, immutable' : 'no-cache')
      c.header('vary', 'accept-encoding', { append: true })
    },
  })
  const page = serveStatic({ root: folder, path: 'index.html', precompressed: true, onFound: (_path, c) => c.header('cache-control', 'no-cache') }) // biome-ignore format: one page
  return new Hono()
    .get('*', (c, next) => (c.req.path === '/' || FOREIGN.test(c.req.url) ? next() : files(c, next)))
    .get('/assets/*', (c) => c.text('Not found', 404))
    .get('*', page)
}
