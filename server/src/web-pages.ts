import { createReadStream } from 'node:fs'
import { readFile, stat } from 'node:fs/promises'
import { extname, join, normalize } from 'node:path'
import { Readable } from 'node:stream'
import type { Handler } from 'hono'

const MEDIA_TYPE: Record<string, string> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.woff2': 'font/woff2',
  '.wasm': 'application/wasm',
  '.json': 'application/json',
}

/** The built page: its files by name, cached for ever where the name holds a hash, and the page itself for every route. */
export function webPages(folder: string): Handler {
  return async (c) => {
    const path = normalize(decodeURIComponent(c.req.path)).replace(/^(\.\.(\/|$))+/, '')
    const file = join(folder, path)
    const type = MEDIA_TYPE[extname(path)]
    if (type && path !== '/index.html' && file.startsWith(folder) && (await isFile(file))) {
      const cache = path.startsWith('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache'
      const body = Readable.toWeb(createReadStream(file)) as ReadableStream<Uint8Array>
      return c.body(body, 200, { 'content-type': type, 'cache-control': cache })
    }
    if (path.startsWith('/assets/')) return c.text('Not found', 404)
    return c.html(await readFile(join(folder, 'index.html'), 'utf8'), 200, { 'cache-control': 'no-cache' })
  }
}

async function isFile(path: string): Promise<boolean> {
  try {
    return (await stat(path)).isFile()
  } catch (error) {
    if (error instanceof Error && 'code' in error && (error.code === 'ENOENT' || error.code === 'ENOTDIR')) return false
    throw error
  }
}
