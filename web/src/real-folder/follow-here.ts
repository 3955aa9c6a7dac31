import { FolderFollower, type Ports } from '@satchel/core/followed/follow'
import type { Listed } from '@satchel/core/followed/steady'
import { FOLLOWED_FILES_MAX } from '@satchel/core/forms/followed'
import { hashPieces } from '@satchel/core/hashes'
import { create } from 'zustand'
import { mayPass, RequestError } from '../api/client.ts'
import { askFollowing, sendFollowed, tellLook } from '../data/followed.ts'
import { type Folder, hashOf } from './folder-files.ts'
import { type FollowedHere, forgetFollowed, listFollowedHere, mayRead } from './followed-here.ts'
import { aloneOrNot } from './locks.ts'

/** How often a folder is looked at, and how long a file lies still before it is read. */
const LOOK_MS = 2_000
/** Listing a large folder takes a while: the next look comes after so many times as long. */
const PAUSE_TIMES = 10
/** Where something is wrong it is tried again after this. */
const AGAIN_MS = 10_000
/** Larger files are hashed in pieces, the others at once by the browser. */
const AT_ONCE_BYTES = 64 * 1024 ** 2

/** How it goes with a folder of this browser; whether it has to be given again, or what is wrong. */
export type FollowState = { is: 'followed' } | { is: 'asks' } | { is: 'fails'; why: string }

/** How it goes with the folders that this browser follows, by their ids. */
export const useFollowedHere = create<{ states: Readonly<Record<string, FollowState>> }>(() => ({ states: {} }))

const say = (id: string, state: FollowState) =>
  useFollowedHere.setState(({ states }) => ({ states: { ...states, [id]: state } }))

const followers = new Map<string, FolderFollower>()
let wake: (() => void) | undefined

/** Has folders looked at now, after one was given or chosen. */
export const lookNow = (): void => wake?.()

/**
 * Looks at the folders that this browser follows for a workspace, again and again, in one of its tabs.
 * @param signal Ends it.
 */
export async function followHere(workspaceId: string, signal: AbortSignal): Promise<void> {
  const end = () => lookNow()
  signal.addEventListener('abort', end, { once: true })
  while (!signal.aborted) {
    const startMs = performance.now()
    let isWrong = false
    const followed = await listFollowedHere(workspaceId).catch(() => [])
    for (const each of followed) if (!signal.aborted && !(await lookAt(each))) isWrong = true
    const tookMs = performance.now() - startMs
    const pauseMs = isWrong ? AGAIN_MS : Math.max(LOOK_MS, PAUSE_TIMES * tookMs)
    // ended while it was looked at
    if (signal.aborted) return
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, pauseMs)
      wake = () => {
        clearTimeout(timer)
        resolve()
      }
    })
  }
}

/** Looks at one folder. @returns Whether that went well. */
async function lookAt(followed: FollowedHere): Promise<boolean> {
  const { id, folder } = followed
  let isWell = true
  // one tab looks at it
  await aloneOrNot(`followed ${id}`, async () => {
    try {
      if (!(await mayRead(folder))) {
        say(id, { is: 'asks' })
        return
      }
      const follower = followers.get(id) ?? new FolderFollower(portsOf(followed))
      followers.set(id, follower)
      await follower.look(performance.now())
      say(id, { is: 'followed' })
    } catch (error) {
      isWell = false
      // it is followed no more, whoever ended that
      if (error instanceof RequestError && error.status === 404) {
        followers.delete(id)
        await forgetFollowed(id)
      } else say(id, { is: 'fails', why: whyNot(followed.name, error) })
    }
  })
  return isWell
}

function whyNot(name: string, error: unknown): string {
  if (error instanceof RequestError || error instanceof RangeError) return error.message
  if (error instanceof DOMException && error.name === 'NotFoundError')
    return `"${name}" is not there just now; it is looked for again.`
  return `"${name}" could not be read; it is tried again.`
}

const portsOf = ({ id, folder }: FollowedHere): Ports => {
  let files = new Map<string, File>()
  return {
    async list() {
      files = await listFiles(folder)
      return [...files].map(([path, file]) => listed(path, file))
    },
    async hash({ path, sizeBytes, modifiedMs }) {
      const file = files.get(path)
      if (!file) return undefined
      try {
        const sha256 = await hashOfFile(file)
        const now = listed(path, await fileAt(folder, path))
        return now.sizeBytes === sizeBytes && now.modifiedMs === modifiedMs ? sha256 : undefined
      } catch {
        return undefined
      }
    },
    look: (seen) => tellLook(id, [...seen]),
    how: () => askFollowing(id),
    pause: (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
    async send(path, sha256) {
      const file = files.get(path)
      if (!file) return false
      try {
        await sendFollowed(id, { path, sha256, file })
        return true
      } catch (error) {
        // changed since, as the server says, or so that the browser cannot read it any more
        if (error instanceof RequestError && (error.status === 409 || (mayPass(error) && navigator.onLine && !(await isReadable(file))))) return false // biome-ignore format: one condition
        throw error
      }
    },
  }
}

const listed = (path: string, { size, lastModified }: File): Listed => ({
  path,
  sizeBytes: size,
  modifiedMs: lastModified,
})

const isReadable = (file: File): Promise<boolean> =>
  file
    .slice(0, 1)
    .arrayBuffer()
    .then(
      () => true,
      () => false,
    )

async function hashOfFile(file: File): Promise<string> {
  if (file.size <= AT_ONCE_BYTES) return hashOf(await file.arrayBuffer())
  return hashPieces(piecesOf(file))
}

async function* piecesOf(file: File): AsyncGenerator<Uint8Array> {
  const reader = file.stream().getReader()
  for (;;) {
    const { done, value } = await reader.read()
    if (done) return
    yield value
  }
}

async function fileAt(folder: Folder, path: string): Promise<File> {
  const parts = path.split('/')
  const name = parts.pop() ?? ''
  let inside = folder
  for (const part of parts) inside = await inside.getDirectoryHandle(part)
  return (await inside.getFileHandle(name)).getFile()
}

/** All files of a folder, from there down; what begins with a dot is not meant for others. */
async function listFiles(folder: Folder): Promise<Map<string, File>> {
  const files = new Map<string, File>()
  const walk = async (inside: Folder, before: string): Promise<void> => {
    for await (const [name, entry] of inside.entries()) {
      if (name.startsWith('.')) continue
      const path = `${before}${name}`
      if (entry.kind === 'directory') await walk(entry as Folder, `${path}/`)
      else {
        // gone while it was listed: it was there a moment ago
        const file = await (entry as FileSystemFileHandle).getFile().catch(() => undefined)
        if (file) files.set(path, file)
      }
      if (files.size > FOLLOWED_FILES_MAX)
        throw new RangeError(`"${folder.name}" holds more than ${FOLLOWED_FILES_MAX} files; follow a part of it.`)
    }
  }
  await walk(folder, '')
  return files
}
