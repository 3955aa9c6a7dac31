// Where the files of a library rest: finds the database, and hands on. Run as `./satchel files`.
import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildIfNeeded } from './build-if-needed.mjs'
import { SetupError, startPostgres } from './postgres.mjs'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
const PROGRAM = join(root, 'server/dist/files.mjs')

async function main() {
  const given = process.env.SATCHEL_DATABASE_URL
  const data = resolve(root, process.env.SATCHEL_DATA ?? 'data')
  if (!given && !existsSync(join(data, 'postgres')))
    throw new SetupError(
      `There is no library in ${data}: start Gentle Satchel once, or name its folder in SATCHEL_DATA, or its database in SATCHEL_DATABASE_URL.`,
    )
  // a server that runs has been built: it is not built under its feet
  if (!existsSync(PROGRAM)) buildIfNeeded(root)
  const postgres = given ? undefined : await startPostgres(join(data, 'postgres'))
  try {
    const child = spawn(process.execPath, [PROGRAM, ...process.argv.slice(2)], {
      stdio: 'inherit',
      env: { ...process.env, SATCHEL_DATABASE_URL: given ?? postgres.url },
    })
    // the child hears Ctrl-C itself, and ends what it has begun
    for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => signal === 'SIGTERM' && child.kill(signal))
    process.exitCode = await new Promise((done, fail) => {
      child.once('error', fail)
      child.once('exit', (code) => done(code ?? 1))
    })
  } finally {
    await postgres?.stop()
  }
}

main().catch((error) => {
  console.error(error instanceof SetupError ? error.message : error)
  process.exit(1)
})
