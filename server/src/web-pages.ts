import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { serveStatic } from '@hono/node-server/serve-static'
import { Hono } from 'hono'

/** Where the built page has the place for its nonce. */
const NONCE_PLACE = 'STYLE-NONCE'

/** What no name of a file of ours holds: such addresses are a page's, or nobody's. */
const FOREIGN = /%00|%2e%2e|%5c/i

/** The part of the page that a person with a link gets, as the build names it. */
const PERSON_PAGE = 'src/routes/person.tsx'
const PERSON_PATH = /^\/h\/([\w.-]{1,600})\/?$/

/** What the browser can fetch while it reads the first script: what that would ask for one after another. */
function preloads(folder: string, entry: string): string {
  const manifest = readManifest(folder)
  const found = new Set<string>()
  const follow = (name: string) => {
    const chunk = manifest[name]
    if (!chunk || found.has(chunk.file)) return
    found.add(chunk.file)
    for (const each of chunk.imports ?? []) follow(each)
  }
  follow(entry)
  return [...found].map((file) => `<link rel="modulepreload" crossorigin href="/${file}">`).join('')
}

/** Where the page asks for what it shows. */
const preloadOf = (token: string) => `<link rel="preload" as="fetch" crossorigin="anonymous" href="/api/h/${token}">`

type BuildManifest = Record<string, { file: string; imports?: string[] } | undefined>

/** What the build says of its parts; nothing where it says nothing: pages load without it, a little later. */
function readManifest(folder: string): BuildManifest {
  try {
    return JSON.parse(readFileSync(join(folder, '.vite', 'manifest.json'), 'utf8')) as BuildManifest
  } catch {
    return {}
  }
}

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
  const personPage = page.replace('</head>', `${preloads(folder, PERSON_PAGE)}</head>`)
  return (
    new Hono<{ Variables: { secureHeadersNonce?: string } }>()
      .get('*', (c, next) => (isPage(c.req.path) || FOREIGN.test(c.req.url) ? next() : files(c, next)))
      .get('/assets/*', (c) => c.text('Not found', 404))
      // each page has a nonce of its own, by which it may add styles; so it is the one file that is not sent as it lies there
      .get('*', (c) => {
        c.header('cache-control', 'no-cache')
        const [, token] = PERSON_PATH.exec(c.req.path) ?? []
        const sent = token === undefined ? page : personPage.replace('</head>', `${preloadOf(token)}</head>`)
        return c.html(sent.replace(NONCE_PLACE, c.get('secureHeadersNonce') ?? ''))
      })
  )
}
