import { mkdirSync, mkdtempSync, readdirSync, readlinkSync, rmSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { listen } from './server.ts'
import { webPages } from './web-pages.ts'

/** As the build writes it: two parts that need one another, and one that only a curator needs. */
const MANIFEST = {
  'src/routes/person.tsx': { file: 'assets/person.js', imports: ['_shared.js', 'index.html'] },
  '_shared.js': { file: 'assets/shared.js', imports: ['src/routes/person.tsx'] },
  'index.html': { file: 'assets/index.js' },
  'src/app.tsx': { file: 'assets/app.js' },
}

let folder: string
let server: Awaited<ReturnType<typeof listen>>
let url: string
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'satchel-pages-'))
  mkdirSync(join(folder, 'assets'))
  mkdirSync(join(folder, '.vite'))
  writeFileSync(join(folder, '.vite/manifest.json'), JSON.stringify(MANIFEST))
  writeFileSync(join(folder, 'index.html'), '<head></head><p>the page</p>')
  writeFileSync(join(folder, 'assets/app.js'), 'let tide = 1\n'.repeat(50_000))
  server = await listen(webPages(folder), { host: '127.0.0.1', port: 0 })
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(() => {
  server.close()
  rmSync(folder, { recursive: true, force: true })
})

/** Files of the folder that this process has open. */
const openFiles = () =>
  readdirSync('/proc/self/fd').filter((fd) => {
    try {
      return readlinkSync(`/proc/self/fd/${fd}`).startsWith(folder)
    } catch {
      return false
    }
  }).length

it('leaves no file open, whether a file is fetched, looked at, or let go of in the middle', async () => {
  for (let round = 0; round < 40; round++) {
    const some = Array.from({ length: 10 }, () => fetch(`${url}/assets/app.js`, { method: 'HEAD' }))
    for (const response of await Promise.all(some)) expect(response.status).toBe(200)
    const cut = new AbortController()
    const begun = await fetch(`${url}/assets/app.js`, { signal: cut.signal })
    await begun.body?.getReader().read()
    cut.abort()
    expect(await (await fetch(`${url}/sort`)).text()).toBe('<head></head><p>the page</p>')
  }
  await expect.poll(openFiles, { timeout: 20_000 }).toBe(0)
})

it('tells a person’s page what it will need before any script has run, and no other page', async () => {
  const ask = async (path: string) => (await fetch(`${url}${path}`)).text()
  const needs = (page: string) =>
    [...page.matchAll(/<link rel="(\w+)"[^>]* href="([^"]+)">/g)].map(([, rel, href]) => `${rel} ${href}`)
  const wanted = [
    'modulepreload /assets/person.js',
    'modulepreload /assets/shared.js',
    'modulepreload /assets/index.js',
  ]
  expect(needs(await ask('/h/some-Token_1'))).toEqual([...wanted, 'preload /api/h/some-Token_1'])
  for (const path of ['/sort', '/h/', '/h/a/b', '/h/%22%3E%3Cscript%3E', '/p/token'])
    expect(needs(await ask(path)), path).toEqual([])
})
