import type { Api } from '@satchel/server/api'
import { type ClientResponse, hc } from 'hono/client'

/** The typed client of the server; every request of the page goes through it or through `send`. */
export const api = hc<Api>('/', { headers: () => shownHeaders() }).api

/** The workspace that this window shows: it is said with each request, so that none means another one. */
let shown: string | undefined
const shownHeaders = (): Record<string, string> => (shown === undefined ? {} : { 'x-satchel-workspace': shown })

/**
 * Says which workspace this window shows; where it showed another one, it begins anew, since all that it holds is of that.
 * @param workspaceId Undefined where nobody is signed in.
 */
export function showWorkspace(workspaceId: string | undefined): void {
  if (shown !== undefined && workspaceId !== undefined && shown !== workspaceId) window.location.assign('/sort')
  else shown = workspaceId
}

/** A request the server refused, with the sentence it gave. */
export class RequestError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

/** Whether asking again may help: the server did not answer, failed, or has too much to do. */
export const mayPass = (error: unknown): boolean =>
  error instanceof RequestError && (error.status === 0 || error.status === 429 || error.status >= 500)

const OFFLINE = 'The server does not answer; check that it is running and try again.'

/** The JSON of a good answer. @throws {RequestError} With the server's own sentence otherwise. */
export async function read<Response extends ClientResponse<unknown>>(
  request: Promise<Response>,
): Promise<Response extends ClientResponse<infer Body, number, 'json'> ? Body : never> {
  const response = await request.catch(() => {
    throw new RequestError(0, OFFLINE)
  })
  if (!response.ok) throw await toError(response)
  return (await response.json()) as never
}

/** A plain request, for uploads and the auth library's own addresses. */
export async function send(path: string, init: RequestInit): Promise<Response> {
  const headers = { ...shownHeaders(), ...(init.headers as Record<string, string> | undefined) }
  const response = await fetch(path, { ...init, headers }).catch(() => {
    throw new RequestError(0, OFFLINE)
  })
  if (!response.ok) throw await toError(response)
  return response
}

async function toError(response: { status: number; text(): Promise<string> }): Promise<RequestError> {
  const text = await response.text()
  let said: { title?: string; message?: string } = {}
  try {
    said = JSON.parse(text)
  } catch {
    said = {}
  }
  return new RequestError(
    response.status,
    said.title ?? said.message ?? `The server answered ${response.status}; try again.`,
  )
}
