import { type QueryKey, useQueryClient } from '@tanstack/react-query'
import { useCallback } from 'react'
import type { Root } from './keys.ts'

/** Asks anew for what is shown of these: all that begins so, or what a key names. @returns A function that does it. */
export function useRefresh(): (...what: (Root | QueryKey)[]) => Promise<unknown> {
  const client = useQueryClient()
  return useCallback(
    (...what: (Root | QueryKey)[]) =>
      Promise.all(what.map((each) => client.invalidateQueries({ queryKey: typeof each === 'string' ? [each] : each }))),
    [client],
  )
}
