import { existsSync, realpathSync, statSync } from 'node:fs'
import { type FileHandle, mkdir, open, rename, rm, stat, writeFile } from 'node:fs/promises'
import { basename, dirname, extname, resolve } from 'node:path'
import { LimitError } from '@satchel/core/errors'
import { parseJson } from '@satchel/core/formats/json'
import { type ByteSource, toByteSource } from '@satchel/core/formats/zip/layout'
import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import { FileProblem, toFileProblem } from './problems.ts'

/** Stands for what comes in, or goes out, by the pipe. */
export const PIPE = '-'

/** What a file is called in sentences. */
export const shownName = (file: string) => (file === PIPE ? 'standard input' : file)

/** The name a brush gets from its file where it has none of its own. */
export const bareName = (file: string) => (file === PIPE ? 'Unnamed' : basename(file, extname(file)))

/**
 * A file's bytes, or those of standard input.
 * @throws {FileProblem} If it cannot be opened, or is larger than is taken into memory.
 */
export async function readWhole(file: string): Promise<Uint8Array> {
  try {
    if (file === PIPE) return await readPipe()
    const handle = await open(file)
    try {
      const { size } = await statFile(handle)
      if (size > ENTRY_MEMORY_MAX_BYTES) throw new LimitError('its size in bytes', size, ENTRY_MEMORY_MAX_BYTES)
      // what is no plain file says no size, and may go on for ever
      return await readAll(handle.createReadStream({ autoClose: false }))
    } finally {
      await handle.close()
    }
  } catch (error) {
    throw toFileProblem(shownName(file), error)
  }
}

const readPipe = () => readAll(process.stdin)

/** All that a stream brings. @throws {LimitError} As soon as that is more than is taken into memory. */
async function readAll(stream: AsyncIterable<Buffer>): Promise<Uint8Array> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of stream) {
    size += chunk.length
    if (size > ENTRY_MEMORY_MAX_BYTES) throw new LimitError('its size in bytes', size, ENTRY_MEMORY_MAX_BYTES)
    chunks.push(chunk)
  }
  return new Uint8Array(Buffer.concat(chunks))
}

async function statFile(handle: FileHandle) {
  const stat = await handle.stat()
  if (stat.isDirectory()) throw Object.assign(new Error('a folder'), { code: 'EISDIR' })
  return stat
}

/**
 * Works on a file without holding it in memory; standard input is held.
 * @throws {FileProblem} If it cannot be opened, or `work` finds it malformed or too large.
 */
export async function withSource<Result>(file: string, work: (source: ByteSource) => Promise<Result>): Promise<Result> {
  try {
    if (file === PIPE) return await work(toByteSource(await readPipe()))
    const handle = await open(file)
    try {
      const stat = await statFile(handle)
      // what is no plain file has no places to read from: it is held
      if (!stat.isFile()) return await work(toByteSource(await readAll(handle.createReadStream({ autoClose: false }))))
      const { size } = stat
      return await work({
        size,
        async read(offset, length) {
          const bytes = new Uint8Array(Math.max(0, Math.min(length, size - offset)))
          const { bytesRead } = await handle.read(bytes, 0, bytes.length, offset)
          return bytes.subarray(0, bytesRead)
        },
      })
    } finally {
      await handle.close()
    }
  } catch (error) {
    throw toFileProblem(shownName(file), error)
  }
}

/**
 * Writes a file whole or not at all, or sends it to standard output.
 * @param inputs What must not be written over, unless `force` says so.
 * @throws {FileProblem} If it is one of the inputs, or cannot be written.
 */
export async function writeWhole(
  file: string,
  bytes: Uint8Array,
  { inputs, force }: { inputs: readonly string[]; force: boolean },
): Promise<void> {
  if (file === PIPE) {
    await new Promise<void>((done, fail) => process.stdout.write(bytes, (error) => (error ? fail(error) : done())))
    return
  }
  checkOutput(file, inputs, force)
  // What is no plain file, a pipe for example, is written as it is.
  const isPlain = !existsSync(file) || statSync(file).isFile()
  const partial = `${file}.${process.pid}.partial`
  try {
    await writeFile(isPlain ? partial : file, bytes)
    if (isPlain) await rename(partial, file)
  } catch (error) {
    await rm(partial, { force: true }).catch(() => undefined)
    throw toFileProblem(file, error, 'written')
  }
}

/** @throws {FileProblem} If the output is one of the inputs, by whatever name. */
export function checkOutput(file: string, inputs: readonly string[], force: boolean): void {
  if (force || file === PIPE || !existsSync(file)) return
  const same = inputs.find((input) => input !== PIPE && existsSync(input) && realpathSync(input) === realpathSync(file))
  if (same !== undefined)
    throw new FileProblem(file, 'it is the input itself and would be lost; choose another name, or add --force.')
}

/** What a file of JSON says. @throws {FileProblem} If it cannot be opened, is no JSON, or `parse` finds it wrong. */
export async function parseText<Value>(file: string, parse: (value: unknown) => Value): Promise<Value> {
  try {
    return parse(parseJson(new TextDecoder().decode(await readWhole(file)), 'file'))
  } catch (error) {
    throw toFileProblem(shownName(file), error)
  }
}

/**
 * A folder to write into; it is made where there is none, with those that it lies in.
 * @throws {FileProblem} If it cannot be made.
 */
export async function makeFolder(folder: string): Promise<void> {
  try {
    await makeFolders(resolve(folder))
  } catch (error) {
    throw toFileProblem(folder, error, 'made')
  }
}

/** One after another, each tried twice at the most: the platform's own way of making them all tries for ever where none can be made. */
async function makeFolders(path: string): Promise<void> {
  const problem = await mkdir(path).then(
    () => undefined,
    (error: NodeJS.ErrnoException) => error,
  )
  if (problem === undefined) return
  if (problem.code === 'EEXIST' && (await stat(path)).isDirectory()) return
  if (problem.code !== 'ENOENT' || dirname(path) === path) throw problem
  await makeFolders(dirname(path))
  await mkdir(path)
}
