import { fromEvent } from 'file-selector'
import { create } from 'zustand'
import { RequestError, send } from '../../api/client.ts'

type Waiting = { gatherId: string; path: string; file: File }
/** A file that did not arrive and why; `mayPass` where it is not the file's fault, and sending it again may help. */
export type FailedUpload = Waiting & { id: number; error: string; mayPass: boolean }
export type UploadState = { total: number; sent: number; failed: readonly FailedUpload[]; busy: boolean }

const AT_ONCE = 3

// The queue outlives the page that filled it: the curator may look elsewhere while files go up.
const useUploadStore = create<UploadState>(() => ({ total: 0, sent: 0, failed: [], busy: false }))
let queue: Waiting[] = []
let running = 0
let generation = 0
let nextId = 1

const change = (next: Partial<UploadState>): void => useUploadStore.setState(next)

/** Sends files to a gather, a few at a time. */
export function addUploads(gatherId: string, files: readonly { path: string; file: File }[]): void {
  if (!uploadState().busy) change({ total: 0, sent: 0, failed: [] })
  enqueue(files.map((each) => ({ gatherId, ...each })))
}

function enqueue(more: readonly Waiting[]): void {
  queue.push(...more)
  change({ total: uploadState().total + more.length, busy: queue.length > 0 || running > 0 })
  while (running < AT_ONCE && queue.length > 0) void sendNext(generation)
}

/** Sends those again that may pass this time. */
export function sendAgain(): void {
  const { failed } = uploadState()
  const again = failed.filter(({ mayPass }) => mayPass)
  change({ failed: failed.filter(({ mayPass }) => !mayPass) })
  enqueue(again.map(({ gatherId, path, file }) => ({ gatherId, path, file })))
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
      const failed: FailedUpload = {
        ...next,
        id: nextId++,
        error: error instanceof Error ? error.message : String(error),
        mayPass: error instanceof RequestError && (error.status === 0 || error.status >= 500 || error.status === 429),
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
