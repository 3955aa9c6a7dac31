import { UPLOAD_PIECE_BYTES } from '@satchel/core/limits'
import pRetry, { type Options } from 'p-retry'
import { api, mayPass, RequestError, read, send } from '../../api/client.ts'

/** A file on its way to a ledger, with its path from the folder that was given. */
export type FileToSend = { gatherId: string; path: string; file: File }

type Progress = {
  /** How much the server has. */
  onSent: (bytes: number) => void
  /** The server did not answer, and is asked again after a while. */
  onTrouble: (sentence: string) => void
  signal: AbortSignal
}

/** Waits of 1 s and more, 47 s in all: a server that starts again, a line that is broken for a moment. */
const WAITS: Options = { retries: 6, minTimeout: 1000, factor: 2, maxTimeout: 16_000 }
/** The piece is not the next one: another page sends the same file, or an answer was lost. */
const NOT_NEXT = 409

/** Nobody needs to do anything about it. */
const UNANSWERED = 'The server does not answer just now.'

const isUnanswered = (error: unknown): boolean => error instanceof RequestError && error.status === 0

/**
 * Sends a file: a small one in one go, a large one in pieces that go on where an earlier sending stopped. What finds no
 * answer is sent again after a while.
 * @throws {RequestError} When the server refuses, or does not answer for too long.
 */
export async function sendFile(toSend: FileToSend, progress: Progress): Promise<void> {
  const { gatherId, path, file } = toSend
  if (file.size > UPLOAD_PIECE_BYTES) return sendInPieces(toSend, progress)
  const address = `/api/gathers/${gatherId}/files?path=${encodeURIComponent(path)}`
  await patiently(progress, () => sendBytes(address, { method: 'PUT', body: file, signal: progress.signal }))
  progress.onSent(file.size)
}

async function sendInPieces({ gatherId, path, file }: FileToSend, progress: Progress): Promise<void> {
  const ofGather = { id: gatherId }
  const json = { path, sizeBytes: file.size, modifiedMs: file.lastModified }
  const { id, receivedBytes } = await patiently(progress, () =>
    read(api.gathers[':id'].uploads.$post({ param: ofGather, json })),
  )
  let now = { receivedBytes, isWhole: false }
  const sendNext = async () => {
    const at = now.receivedBytes
    const body = file.slice(at, at + UPLOAD_PIECE_BYTES)
    const address = `/api/gathers/${gatherId}/uploads/${id}?at=${at}`
    now = await (await sendBytes(address, { method: 'PATCH', body, signal: progress.signal })).json()
  }
  while (!now.isWhole) {
    progress.onSent(now.receivedBytes)
    await patiently(progress, async (attempt) => {
      if (attempt > 1)
        now = await read(api.gathers[':id'].uploads[':uploadId'].$get({ param: { ...ofGather, uploadId: id } }))
      if (!now.isWhole) await sendNext()
    })
  }
  progress.onSent(file.size)
}

function patiently<Result>(
  { signal, onTrouble }: Progress,
  work: (attempt: number) => Promise<Result>,
): Promise<Result> {
  return pRetry(work, {
    ...WAITS,
    signal,
    shouldRetry: ({ error }) => mayPass(error) || (error instanceof RequestError && error.status === NOT_NEXT),
    onFailedAttempt: ({ error }) => onTrouble(isUnanswered(error) ? UNANSWERED : error.message),
  })
}

async function sendBytes(address: string, init: RequestInit & { body: Blob }): Promise<Response> {
  try {
    return await send(address, init)
  } catch (error) {
    // a file that was moved or changed since it was chosen fails like a line that is broken
    if (isUnanswered(error))
      await init.body
        .slice(0, 1)
        .arrayBuffer()
        .catch(() => {
          throw new RequestError(422, 'The file cannot be read any more; choose it again.')
        })
    throw error
  }
}
