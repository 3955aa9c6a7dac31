import type { FileSha } from '@satchel/core/hashes'

/** A folder of this computer that the person has given. */
export type Folder = FileSystemDirectoryHandle

/** Whoever wants to look at more has given the wrong folder. */
const FILES_MAX = 20_000

/** The paths of all files in a folder, from there down. @throws {RangeError} If there are more than anybody keeps. */
export async function listPaths(folder: Folder): Promise<string[]> {
  const paths: string[] = []
  const walk = async (inside: Folder, before: string): Promise<void> => {
    for await (const [name, entry] of inside.entries()) {
      if (entry.kind === 'directory') await walk(entry as Folder, `${before}${name}/`)
      else paths.push(`${before}${name}`)
      if (paths.length > FILES_MAX)
        throw new RangeError(`"${folder.name}" holds more than ${FILES_MAX} files; choose the folder of the app alone`)
    }
  }
  await walk(folder, '')
  return paths
}

async function openParent(folder: Folder, path: string, create = false): Promise<{ parent: Folder; name: string }> {
  const parts = path.split('/')
  const name = parts.pop() ?? ''
  let parent = folder
  for (const part of parts) parent = await parent.getDirectoryHandle(part, { create })
  return { parent, name }
}

const isMissing = (error: unknown) =>
  error instanceof DOMException && (error.name === 'NotFoundError' || error.name === 'TypeMismatchError')

/** @returns Undefined where nothing is. */
export async function readAt(folder: Folder, path: string): Promise<ArrayBuffer | undefined> {
  try {
    const { parent, name } = await openParent(folder, path)
    return await (await (await parent.getFileHandle(name)).getFile()).arrayBuffer()
  } catch (error) {
    if (isMissing(error)) return undefined
    throw error
  }
}

/** Writes a file whole: until it is, what lay there stays. The folders on the way are made. */
export async function writeAt(folder: Folder, path: string, bytes: ArrayBuffer): Promise<void> {
  const { parent, name } = await openParent(folder, path, true)
  const file = await (await parent.getFileHandle(name, { create: true })).createWritable()
  try {
    await file.write(bytes)
    await file.close()
  } catch (error) {
    await file.abort().catch(() => undefined)
    throw error
  }
}

/** Takes a file away, and the folders that are empty then, up to the one that was given. */
export async function removeAt(folder: Folder, path: string): Promise<void> {
  try {
    const { parent, name } = await openParent(folder, path)
    await parent.removeEntry(name)
  } catch (error) {
    if (!isMissing(error)) throw error
  }
  const parts = path.split('/').slice(0, -1)
  for (; parts.length > 0; parts.pop()) {
    try {
      const { parent, name } = await openParent(folder, parts.join('/'))
      // one that holds anything is not removed
      await parent.removeEntry(name)
    } catch {
      return
    }
  }
}

export async function hashOf(bytes: ArrayBuffer): Promise<FileSha> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('') as FileSha
}

export async function hashAt(folder: Folder, path: string): Promise<FileSha | undefined> {
  const bytes = await readAt(folder, path)
  return bytes && hashOf(bytes)
}
