import { spawn, spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, describe, expect, it } from 'vitest'
import { freePort } from './postgres.mjs'

const script = fileURLToPath(new URL('./start.mjs', import.meta.url))
const data = mkdtempSync(join(tmpdir(), 'satchel-start-'))
chmodSync(data, 0o755) // the database's account must be able to enter it
afterAll(() => rmSync(data, { recursive: true, force: true }))

const refused = (...args) => {
  const { status, stderr } = spawnSync('node', [script, ...args], { encoding: 'utf8' })
  return { status, said: stderr.trim() }
}

/** Starts it for real and waits for its greeting. */
async function start(port) {
  const child = spawn('node', [script, '--port', String(port), '--empty'], {
    env: { ...process.env, SATCHEL_DATA: data },
  })
  let said = ''
  child.stdout.on('data', (chunk) => (said += chunk))
  child.stderr.on('data', (chunk) => (said += chunk))
  const ended = new Promise((done) => child.once('exit', done))
  await Promise.race([
    (async () => {
      while (!said.includes('Ctrl-C stops it')) await new Promise((done) => setTimeout(done, 50))
    })(),
    ended.then((code) => Promise.reject(new Error(`it ended with ${code}: ${said}`))),
  ])
  return { child, ended, said: () => said }
}

describe('the start', () => {
  it('says how it is used', () => {
    const { status, stdout } = spawnSync('node', [script, '--help'], { encoding: 'utf8' })
    expect(status).toBe(0)
    for (const option of ['--port', '--network', '--empty', '--dev']) expect(stdout).toContain(option)
  })

  it.each([[['--port', 'many']], [['--port', '70000']], [['--sideways']], [['extra']]])(
    'refuses %j in a sentence, without a stack',
    (args) => {
      const { status, said } = refused(...args)
      expect(status).toBe(1)
      expect(said).not.toMatch(/\n\s+at /)
      expect(said.split('\n')[0]?.length).toBeGreaterThan(10)
    },
  )

  it('names the port that is taken, and touches nothing', async () => {
    const port = await freePort()
    const other = createServer().listen(port, '127.0.0.1')
    await new Promise((done) => other.once('listening', done))
    const { status, said } = refused('--port', String(port))
    other.close()
    expect(status).toBe(1)
    expect(said).toContain(String(port))
    expect(said).not.toMatch(/\n\s+at /)
  })

  it('comes up with an empty library, ends with Ctrl-C leaving nothing running, and comes up again with what was there', async () => {
    const port = await freePort()
    const url = `http://127.0.0.1:${port}`
    for (const isEmpty of [true, false]) {
      const { child, ended, said } = await start(port)
      expect(said()).toContain(url)
      expect((await fetch(url)).status).toBe(200)
      const session = await (await fetch(`${url}/api/session`)).json()
      expect(session).toMatchObject({ signedIn: false, empty: isEmpty })
      const owner = {
        name: 'Ida Slikker',
        email: 'ida@marsh.example',
        password: 'samphire-and-salt',
        workspace: 'Marsh',
      }
      const made = await fetch(`${url}/api/session/owner`, {
        method: 'POST',
        headers: { origin: url, 'content-type': 'application/json' },
        body: JSON.stringify(owner),
      })
      expect(made.ok).toBe(isEmpty)
      child.kill('SIGINT')
      expect(await ended).toBe(0)
      await expect(fetch(url)).rejects.toThrow()
      expect(existsSync(join(data, 'postgres/postmaster.pid'))).toBe(false)
    }
  })
})
