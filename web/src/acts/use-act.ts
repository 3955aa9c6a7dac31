import { useCallback } from 'react'
import { plural } from '../components/format.ts'
import { toast, toastError } from '../components/toasts.tsx'
import { undoAct } from '../data/acts.ts'
import { useRefresh } from '../data/use-refresh.ts'

/** Does something to many brushes, says what, and offers to take it back; what is shown is asked anew. */
export function useAct() {
  const ask = useRefresh()
  const refresh = useCallback(
    () => ask('same-marks', 'acts', 'brushes', 'brush', 'sets', 'tally', 'facets', 'pockets', 'packs', 'pack'),
    [ask],
  )
  const takeBack = useCallback(
    async (id: string) => {
      try {
        const { stayed } = await undoAct(id)
        await refresh()
        toast(
          stayed === 0
            ? 'All of it is as it was before.'
            : `As it was before, but for ${plural(stayed, 'place')} that changed since.`,
        )
      } catch (error) {
        toastError(error)
      }
    },
    [refresh],
  )
  const act = useCallback(
    async (what: () => Promise<{ id: string; said: string }>) => {
      try {
        const { id, said } = await what()
        await refresh()
        toast(said, { action: { label: 'Undo', run: () => void takeBack(id) } })
        return true
      } catch (error) {
        toastError(error)
        return false
      }
    },
    [refresh, takeBack],
  )
  return { act, takeBack, refresh }
}
