// Keeps everything of a server in one file, and brings it back. Run as `./satchel backup FILE` and `./satchel restore FILE`.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import {
  chmodSync,
  createReadStream,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { basename, dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { findPostgres, SetupError, startPostgres } from './postgres.mjs'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
const FORMAT = 'satchel-backup'
const VERSION = 1
const HEAD = 'backup.json'
const PARTS = ['database.dump', 'secret']
const DATABASE = 'satchel'
/** What is brought back is put together beside, and takes the place of what is there in one step. */
const RESTORED = 'satchel_restored'
/** What was there before stays, until the next time. */
const BEFORE = 'satchel_before'
/** The secret of what is being brought back; while it lies there nothing is started. */
const PENDING_SECRET = 'secret.restoring'
const USAGE = `./satchel backup FILE            keeps everything of this server in one file, and checks it
./satchel restore FILE [--force] brings it back; over what is there only with --force
./satchel backup FILE --check    looks whether a backup is whole

The data folder is the one that ./start uses: SATCHEL_DATA, or data beside the program.`

async function main() {
  const { command, file, force, check } = readArguments()
  const data = resolve(root, process.env.SATCHEL_DATA ?? 'data')
  if (command === 'backup' && check) {
    await withUnpacked(file, () => console.log(`${file} is whole.`))
  } else if (command === 'backup') await backup(data, file)
  else await restore(data, file, force)
}

function readArguments() {
  try {
    const { values, positionals } = parseArgs({
      allowPositionals: true,
      options: {
        force: { type: 'boolean', default: false },
        check: { type: 'boolean', default: false },
        help: { type: 'boolean' },
      },
    })
    const [command, file, ...others] = positionals
    if (values.help) {
      console.log(USAGE)
      process.exit(0)
    }
    if (!['backup', 'restore'].includes(command) || file === undefined || others.length > 0)
      throw new Error('It takes one file.')
    return { command, file: resolve(file), ...values }
  } catch (error) {
    console.error(`${error.message}\n${USAGE}`)
    process.exit(2)
  }
}

/** Writes everything of one moment beside the file, looks whether it is whole, and puts it in its place. */
async function backup(data, file) {
  if (!existsSync(join(data, 'secret')) || !existsSync(join(data, 'postgres')))
    throw new SetupError(
      `There is no library in ${data} to keep: start Gentle Satchel once, or name its folder in SATCHEL_DATA.`,
    )
  if (existsSync(join(data, PENDING_SECRET))) throw new SetupError('A restore was broken off here; run it again first.')
  const folder = makeFolderBeside(file)
  const postgres = await startPostgres(join(data, 'postgres'))
  try {
    const dump = join(folder, 'database.dump')
    await run(
      'pg_dump',
      ['--format=custom', '--compress=1', `--file=${dump}`],
      'The database could not be read',
      toEnv(postgres.url, DATABASE),
    )
    writeFileSync(join(folder, 'secret'), readFileSync(join(data, 'secret')), { mode: 0o600 })
    const parts = {}
    for (const part of PARTS) parts[part] = await measure(join(folder, part))
    writeFileSync(join(folder, HEAD), `${JSON.stringify({ format: FORMAT, version: VERSION, parts }, null, 1)}\n`)
    const packed = join(folder, 'packed')
    // the head first: whoever opens it knows at once what it is
    await run(
      'tar',
      ['--create', `--file=${packed}`, '--owner=0', '--group=0', '--directory', folder, HEAD, ...PARTS],
      'The file could not be written',
    )
    chmodSync(packed, 0o600)
    await withUnpacked(packed, () => undefined)
    renameSync(packed, file)
    const { size } = statSync(file)
    const away = Number(
      runSql(toEnv(postgres.url, DATABASE), 'select count(*) from blob where object_name is not null'),
    )
    if (away > 0)
      console.log(
        `${away.toLocaleString('en')} files rest in the store that SATCHEL_STORE names, and are not in this file: keep the store as well. What is let go there stays for 7 days, so that a backup of this week finds its files.`,
      )
    console.log(
      `${file} holds ${away > 0 ? 'all of the database' : 'everything'}: ${(size / 1e6).toFixed(1)} MB, checked. It has the keys of this server in it; keep it as you keep those.`,
    )
  } finally {
    await postgres.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

/** Brings a backup back. What is there stays untouched until all of it is in the database. */
async function restore(data, file, force) {
  if (existsSync(join(data, 'secret')) && !force && !existsSync(join(data, PENDING_SECRET)))
    throw new SetupError(
      `There is a library in ${data} already. Add --force to put the backup in its place, or name another folder in SATCHEL_DATA.`,
    )
  await withUnpacked(file, async (folder) => {
    mkdirSync(data, { recursive: true })
    const postgres = await startPostgres(join(data, 'postgres'))
    try {
      const sql = (text, database = 'postgres') => runSql(toEnv(postgres.url, database), text)
      const others = sql(
        `select count(*) from pg_stat_activity where datname = '${DATABASE}' and backend_type = 'client backend'`,
      )
      if (Number(others) > 0)
        throw new SetupError('Gentle Satchel is running on this data folder; stop it, and restore then.')
      sql(`drop database if exists ${RESTORED}`)
      sql(`create database ${RESTORED}`)
      const filled = ['--exit-on-error', '--no-owner', `--dbname=${RESTORED}`, join(folder, 'database.dump')]
      await run('pg_restore', filled, 'The database could not be filled', toEnv(postgres.url, RESTORED))
      const users = sql('select count(*) from "user"', RESTORED)
      writeFileSync(join(data, PENDING_SECRET), readFileSync(join(folder, 'secret')), { mode: 0o600 })
      sql(`drop database if exists ${BEFORE}`)
      // both names at once, or none
      sql(
        `begin; alter database ${DATABASE} rename to ${BEFORE}; alter database ${RESTORED} rename to ${DATABASE}; commit`,
      )
      renameSync(join(data, PENDING_SECRET), join(data, 'secret'))
      console.log(
        `${file} is back in ${data}, with ${users} ${users === '1' ? 'account' : 'accounts'}. What was there before lies in the database ${BEFORE} until the next restore.`,
      )
    } finally {
      await postgres.stop()
    }
  })
}

/**
 * Unpacks a backup and looks whether every part is what it was when it was written.
 * @param use Told the folder, which goes afterwards.
 */
async function withUnpacked(file, use) {
  if (!existsSync(file) || !statSync(file).isFile())
    throw new SetupError(`${file} is not there, or no file; choose another.`)
  const folder = makeFolderBeside(file)
  const broken = `${file} is no backup of Gentle Satchel, or not whole; choose another.`
  try {
    await run(
      'tar',
      ['--extract', `--file=${file}`, '--directory', folder, '--no-same-owner', '--', HEAD, ...PARTS],
      broken,
    )
    const head = readHead(join(folder, HEAD), broken)
    for (const part of PARTS) {
      const [told, found] = [head.parts?.[part], await measure(join(folder, part))]
      if (told?.sha256 !== found.sha256 || told?.sizeBytes !== found.sizeBytes) throw new SetupError(broken)
    }
    await run('pg_restore', ['--list', `--file=${join(folder, 'list')}`, join(folder, 'database.dump')], broken)
    return await use(folder)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

function readHead(path, broken) {
  let head
  try {
    head = JSON.parse(readFileSync(path, 'utf8'))
  } catch {
    throw new SetupError(broken)
  }
  if (head?.format !== FORMAT) throw new SetupError(broken)
  if (head.version !== VERSION)
    throw new SetupError('This backup was written by a newer version of Gentle Satchel; restore it with that.')
  return head
}

/** A folder on the disk of the file, so that what is put together there only has to be renamed. */
function makeFolderBeside(file) {
  try {
    return mkdtempSync(join(dirname(file), `.${basename(file)}-`))
  } catch (error) {
    throw new SetupError(`Nothing can be written in ${dirname(file)} (${error.code}); choose another folder.`)
  }
}

async function measure(path) {
  const hash = createHash('sha256')
  let sizeBytes = 0
  for await (const chunk of createReadStream(path)) {
    hash.update(chunk)
    sizeBytes += chunk.length
  }
  return { sha256: hash.digest('hex'), sizeBytes }
}

/** Where a program is: PostgreSQL's own are those of its server. */
const programOf = (name) => (name === 'tar' ? 'tar' : join(findPostgres() ?? '', name))

/** How PostgreSQL's programs reach a database: not by their arguments, which everybody on the machine can read. */
function toEnv(url, database) {
  const { hostname, port, username, password } = new URL(url)
  return { PGHOST: hostname, PGPORT: port, PGUSER: username, PGPASSWORD: password, PGDATABASE: database }
}

function run(name, args, sentence, env = {}) {
  return new Promise((done, fail) => {
    const child = spawn(programOf(name), args, {
      stdio: ['ignore', 'ignore', 'pipe'],
      cwd: '/',
      env: { ...process.env, LC_ALL: 'C', ...env },
    })
    let said = ''
    child.stderr.on('data', (data) => {
      said = `${said}${data}`.slice(-2000)
    })
    child.once('error', (error) => fail(new SetupError(`${sentence} (${error.message}).`)))
    child.once('exit', (code) => {
      if (code === 0) return done()
      const [line = ''] = said.trim().split('\n').slice(-1)
      fail(new SetupError(sentence.endsWith('.') ? sentence : `${sentence}: ${line}`))
    })
  })
}

function runSql(env, text) {
  const { status, stdout, stderr } = spawnSync(
    programOf('psql'),
    ['-X', '-A', '-t', '-q', '-v', 'ON_ERROR_STOP=1', '-c', text],
    { encoding: 'utf8', cwd: '/', env: { ...process.env, ...env } },
  )
  if (status !== 0) throw new SetupError(`The database refused: ${stderr.trim().split('\n')[0]}`)
  return stdout.trim()
}

main().catch((error) => {
  console.error(error instanceof SetupError ? error.message : error)
  process.exit(1)
})
