import { createHash } from 'node:crypto'
import { open } from 'node:fs/promises'
import { FormatError, LimitError } from '@satchel/core/errors'
import { fromUtf8 } from '@satchel/core/formats/text'
import { type ByteSource, toByteSource } from '@satchel/core/formats/zip/layout'
import { listZip, readZipEntry } from '@satchel/core/formats/zip/read'
import { PACK_EXTENSION } from '@satchel/core/pack/manifest'
import { isSatchelPack, openPack } from '@satchel/core/pack/read'
import { parseSums, SUMS_PATH } from '@satchel/core/pack/sums'
import { codecs, inspectBytes } from './file-brush.ts'

/** Verifies a download: archive, checksums, every picture and brush file, and the pack inside. @returns The exit code. */
export async function check(path: string): Promise<number> {
  const problems: string[] = []
  const file = await open(path)
  try {
    const { size } = await file.stat()
    const source: ByteSource = {
      size,
      read: async (offset, length) => {
        const bytes = new Uint8Array(length)
        const { bytesRead } = await file.read(bytes, 0, length, offset)
        return bytes.subarray(0, bytesRead)
      },
    }
    const checked = await checkSource(source, problems)
    for (const problem of problems) console.log(problem)
    console.log(
      problems.length === 0 ? `${path}: ${checked} files, all sound.` : `${path}: ${problems.length} problems.`,
    )
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof LimitError)) throw error
    console.log(`${path}: ${error.message}`)
    return 1
  } finally {
    await file.close()
  }
  return problems.length === 0 ? 0 : 1
}

async function checkSource(source: ByteSource, problems: string[]): Promise<number> {
  const entries = await listZip(source)
  const listed = entries.find((entry) => entry.path === SUMS_PATH)
  if (!listed) throw new FormatError('download', 0, `the file ${SUMS_PATH} in it`)
  const sums = new Map(
    parseSums(fromUtf8(await readZipEntry(source, listed, codecs), SUMS_PATH, 0)).map(({ path, sha256 }) => [
      path,
      sha256,
    ]),
  )
  for (const entry of entries) {
    if (entry === listed) continue
    const bytes = await readZipEntry(source, entry, codecs)
    const wanted = sums.get(entry.path)
    sums.delete(entry.path)
    if (wanted === undefined) problems.push(`${entry.path}: it has no checksum.`)
    else if (createHash('sha256').update(bytes).digest('hex') !== wanted)
      problems.push(`${entry.path}: its checksum differs.`)
    if (/\.(png|gbr|gih)$/.test(entry.path)) await checkFile(bytes, entry.path, problems)
    if (entry.path.endsWith(PACK_EXTENSION)) await checkSource(toByteSource(bytes), problems)
  }
  for (const missing of sums.keys()) problems.push(`${missing}: it is missing.`)
  if (isSatchelPack(entries)) await openPack(source, codecs)
  return entries.length
}

async function checkFile(bytes: Uint8Array, path: string, problems: string[]): Promise<void> {
  try {
    const { kind } = await inspectBytes(bytes)
    const wanted = path.slice(path.lastIndexOf('.') + 1)
    if (kind !== wanted && !(wanted === 'png' && kind === 'apng')) problems.push(`${path}: it is ${kind} inside.`)
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof LimitError)) throw error
    problems.push(`${path}: ${error.message}`)
  }
}
