import { useSyncExternalStore } from 'react'
import { send } from '../../api/client.ts'

/** A file that is on its way, or did not arrive and why. */
export type Upload = { id: number; path: string; state: 'waiting' | 'sending' | 'failed'; error?: string }
export type UploadState = { total: number; sent: number; failed: readonly Upload[]; busy: boolean }

const AT_ONCE = 3

// The queue outlives the page that filled it: the curator may look elsewhere while files go up.
let state: UploadState = { total: 0, sent: 0, failed: [], busy: false }
let queue: { gatherId: string; path: string; file: File }[] = []
let running = 0
let generation = 0
let nextId = 1
const listeners = new Set<() => void>()

function change(next: Partial<UploadState>): void {
  state = { ...state, ...next }
  for (const listener of listeners) listener()
}

/** Sends files to a gather, a few at a time. */
export function addUploads(gatherId: string, files: readonly { path: string; file: File }[]): void {
  if (!state.busy) change({ total: 0, sent: 0, failed: [] })
  queue.push(...files.map((each) => ({ gatherId, ...each })))
  change({ total: state.total + files.length, busy: queue.length > 0 || running > 0 })
  while (running < AT_ONCE && queue.length > 0) void sendNext(generation)
}

/** Forgets everything that has not been sent. */
export function dropUploads(): void {
  generation++
  queue = []
  running = 0
  change({ total: 0, sent: 0, failed: [], busy: false })
}

async function sendNext(mine: number): Promise<void> {
  const next = queue.shift()
  if (!next) return
  running++
  try {
    await send(`/api/gathers/${next.gatherId}/files?path=${encodeURIComponent(next.path)}`, {
      method: 'PUT',
      body: next.file,
    })
  } catch (error) {
    if (mine === generation) {
      const failed: Upload = {
        id: nextId++,
        path: next.path,
        state: 'failed',
        error: error instanceof Error ? error.message : String(error),
      }
      change({ failed: [...state.failed, failed] })
    }
  }
  if (mine !== generation) return
  running--
  change({ sent: state.sent + 1, busy: queue.length > 0 || running > 0 })
  void sendNext(mine)
}

export const uploadState = (): UploadState => state

export function useUploads(): UploadState {
  return useSyncExternalStore((listener) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }, uploadState)
}

/** All files of a drop, folders opened, each with its path. */
export async function filesOfDrop(items: DataTransferItemList): Promise<{ path: string; file: File }[]> {
  const entries = [...items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null)
  const found: { path: string; file: File }[] = []
  for (const entry of entries) await visit(entry, found)
  return found
}

async function visit(entry: FileSystemEntry, found: { path: string; file: File }[]): Promise<void> {
  if (entry instanceof FileSystemFileEntry) {
    const file = await new Promise<File>((done, fail) => entry.file(done, fail))
    found.push({ path: entry.fullPath.replace(/^\//, ''), file })
    return
  }
  if (!(entry instanceof FileSystemDirectoryEntry)) return
  const reader = entry.createReader()
  // A reader gives a folder in parts; an empty part ends it.
  for (;;) {
    const part = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail))
    if (part.length === 0) return
    for (const child of part) await visit(child, found)
  }
}

/** Chosen files with their paths: the folder's own where a whole folder was chosen. */
export const filesOfInput = (list: FileList): { path: string; file: File }[] =>
  [...list].map((file) => ({ path: file.webkitRelativePath || file.name, file }))
