import { fromEvent } from 'file-selector'
import { create } from 'zustand'
import { mayPass } from '../../api/client.ts'
import { type FileToSend, sendFile } from './send-file.ts'

/** A file that did not arrive and why; `mayPass` where it is not the file's fault, and sending it again may help. */
export type FailedUpload = FileToSend & { id: number; error: string; mayPass: boolean }
export type UploadState = {
  files: number
  /** Of them, those that are here. */
  done: number
  bytes: number
  sentBytes: number
  failed: readonly FailedUpload[]
  busy: boolean
  /** Why it does not go on just now, though it is tried again. */
  trouble: string
}

const AT_ONCE = 3
const NOTHING: UploadState = { files: 0, done: 0, bytes: 0, sentBytes: 0, failed: [], busy: false, trouble: '' }

// The queue outlives the page that filled it: the curator may look elsewhere while files go up.
const useUploadStore = create<UploadState>(() => NOTHING)
let queue: FileToSend[] = []
let running = 0
let dropped = new AbortController()
let nextId = 1

const change = (next: Partial<UploadState>): void => useUploadStore.setState(next)

/** Sends files to a gather, a few at a time. */
export function addUploads(gatherId: string, files: readonly { path: string; file: File }[]): void {
  if (!uploadState().busy) change(NOTHING)
  enqueue(files.map((each) => ({ gatherId, ...each })))
}

function enqueue(more: readonly FileToSend[]): void {
  queue.push(...more)
  const { files, bytes } = uploadState()
  change({
    files: files + more.length,
    bytes: more.reduce((sum, { file }) => sum + file.size, bytes),
    busy: queue.length > 0 || running > 0,
  })
  while (running < AT_ONCE && queue.length > 0) void sendNext(dropped.signal)
}

/** Sends those again that may pass this time. */
export function sendAgain(): void {
  const { failed } = uploadState()
  const again = failed.filter((each) => each.mayPass)
  change({ failed: failed.filter((each) => !each.mayPass) })
  enqueue(again.map(({ gatherId, path, file }) => ({ gatherId, path, file })))
}

/** Forgets everything that has not been sent. */
export function dropUploads(): void {
  dropped.abort()
  dropped = new AbortController()
  queue = []
  running = 0
  change(NOTHING)
}

async function sendNext(signal: AbortSignal): Promise<void> {
  const next = queue.shift()
  if (!next) return
  running++
  const error = await sendOne(next, signal)
  if (signal.aborted) return
  running--
  if (error) noteFailed(next, error)
  else change({ done: uploadState().done + 1 })
  change({ busy: queue.length > 0 || running > 0 })
  void sendNext(signal)
}

/** Sends a file, and counts what has come of it. @returns Why it did not arrive. */
async function sendOne(next: FileToSend, signal: AbortSignal): Promise<Error | undefined> {
  let counted = 0
  const onSent = (sent: number) => {
    if (!signal.aborted) change({ sentBytes: uploadState().sentBytes + sent - counted, trouble: '' })
    counted = sent
  }
  const onTrouble = (trouble: string) => {
    if (!signal.aborted) change({ trouble })
  }
  try {
    await sendFile(next, { signal, onSent, onTrouble })
    return undefined
  } catch (error) {
    if (!signal.aborted) change({ sentBytes: uploadState().sentBytes - counted })
    return error instanceof Error ? error : new Error(String(error))
  }
}

/** A file that failed is no longer among those on their way; sent again, it is counted again. */
function noteFailed(file: FileToSend, error: Error): void {
  const { failed, files, bytes } = uploadState()
  change({
    failed: [...failed, { ...file, id: nextId++, error: error.message, mayPass: mayPass(error) }],
    files: files - 1,
    bytes: bytes - file.file.size,
  })
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
