import type { Mend } from '@satchel/core/check-list/rules'
import { useRef, useState } from 'react'
import { plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import { mendAll, undoMending } from '../../data/check-list.ts'
import { useRefresh } from '../../data/use-refresh.ts'

type Running = { done: number; total: number }

/** Mends findings of a pack, a kind at a time; what was done can be undone from the message that says so. */
export function useMender(packId: string) {
  const ask = useRefresh()
  const refresh = () => ask('pack', 'brushes', 'brush', 'materials')
  const [running, setRunning] = useState<Running>()
  /** Why brushes could not be mended, by their ids. */
  const [refused, setRefused] = useState<ReadonlyMap<string, string>>(new Map())
  const stopping = useRef(new AbortController())
  const run = async (mend: Mend, brushIds: readonly string[]) => {
    stopping.current = new AbortController()
    setRunning({ done: 0, total: brushIds.length })
    try {
      const result = await mendAll(
        packId,
        { mend, brushIds },
        { tell: (done) => setRunning({ done, total: brushIds.length }), signal: stopping.current.signal },
      )
      setRefused(new Map(result.refused.map(({ id, why }) => [id, why])))
      const { mended, failed } = result
      if (failed !== undefined) toastError(failed)
      if (mended.length > 0)
        toast(`${plural(mended.length, 'brush', 'brushes')} mended.`, {
          action: {
            label: 'Undo',
            run: () => void undoMending(packId, mended).then(refresh).catch(toastError),
          },
        })
    } catch (error) {
      toastError(error)
    } finally {
      setRunning(undefined)
      await refresh()
    }
  }
  return {
    running,
    isBusy: running !== undefined,
    refused,
    mend: (mend: Mend, brushIds: readonly string[]) => void run(mend, brushIds),
    stop: () => stopping.current.abort(),
  }
}
export type Mender = ReturnType<typeof useMender>
