import { fromEvent } from 'file-selector'
import { create } from 'zustand'
import { send } from '../../api/client.ts'

/** A file that is on its way, or did not arrive and why. */
export type Upload = { id: number; path: string; state: 'waiting' | 'sending' | 'failed'; error?: string }
export type UploadState = { total: number; sent: number; failed: readonly Upload[]; busy: boolean }

const AT_ONCE = 3

// The queue outlives the page that filled it: the curator may look elsewhere while files go up.
const useUploadStore = create<UploadState>(() => ({ total: 0, sent: 0, failed: [], busy: false }))
let queue: { gatherId: string; path: string; file: File }[] = []
let running = 0
let generation = 0
let nextId = 1

const change = (next: Partial<UploadState>): void => useUploadStore.setState(next)

/** Sends files to a gather, a few at a time. */
export function addUploads(gatherId: string, files: readonly { path: string; file: File }[]): void {
  if (!uploadState().busy) change({ total: 0, sent: 0, failed: [] })
  queue.push(...files.map((each) => ({ gatherId, ...each })))
  change({ total: uploadState().total + files.length, busy: queue.length > 0 || running > 0 })
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
      change({ failed: [...uploadState().failed, failed] })
    }
  }
  if (mine !== generation) return
  running--
  change({ sent: uploadState().sent + 1, busy: queue.length > 0 || running > 0 })
  void sendNext(mine)
}

export const uploadState = (): UploadState => useUploadStore.getState()

export const useUploads = (): UploadState => useUploadStore()

/** All files of a drop or a choice, folders opened, each with its path from the folder that was given. */
export async function filesOf(event: Event): Promise<{ path: string; file: File }[]> {
  const found = await fromEvent(event)
  return found.flatMap((file) => (file instanceof File ? [{ path: pathOf(file), file }] : []))
}

const pathOf = (file: File & { path?: string }): string =>
  (file.webkitRelativePath || file.path || file.name).replace(/^\.?\//, '')
