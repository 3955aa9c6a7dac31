import { FormatError, LimitError } from '@satchel/core/errors'
import type { Tasks } from './tasks.ts'

/** What is said between the server and the processes that work for it. */
export type ToHand = { id: number; task: keyof Tasks; input: unknown }
export type FromHand =
  | { id: number; kind: 'share'; share: number }
  | { id: number; kind: 'done'; result: unknown }
  | { id: number; kind: 'failed'; error: WireError }

/** An error as it crosses over: what the server tells apart, and what the log shows. */
export type WireError =
  | { name: 'FormatError'; format: string; offset: number | undefined; expected: string }
  | { name: 'LimitError'; limit: string; found: number; allowed: number }
  | { name: 'Error'; message: string; stack: string | undefined }

export function toWireError(error: unknown): WireError {
  if (error instanceof FormatError) {
    const { format, offset, expected } = error
    return { name: 'FormatError', format, offset, expected }
  }
  if (error instanceof LimitError) {
    const { limit, found, allowed } = error
    return { name: 'LimitError', limit, found, allowed }
  }
  if (error instanceof Error) return { name: 'Error', message: error.message, stack: error.stack }
  return { name: 'Error', message: String(error), stack: undefined }
}

export function fromWireError(error: WireError): Error {
  switch (error.name) {
    case 'FormatError':
      return new FormatError(error.format, error.offset, error.expected)
    case 'LimitError':
      return new LimitError(error.limit, error.found, error.allowed)
    case 'Error': {
      const { message, stack } = error
      return Object.assign(new Error(message), stack === undefined ? {} : { stack })
    }
  }
}
