import { useCallback } from 'react'
import { toast, toastError } from '../../components/toasts.tsx'
import { useRefresh } from '../../data/use-refresh.ts'

/** Runs a change of the library, says so, offers the way back, and refreshes what is shown. */
export function useLibraryChange() {
  const ask = useRefresh()
  return useCallback(
    async (change: () => Promise<unknown>, { said, undo }: { said?: string; undo?: () => Promise<unknown> } = {}) => {
      const refresh = () => ask('brushes', 'brush', 'sets', 'tally', 'facets')
      try {
        await change()
        await refresh()
        if (!said) return true
        const back = undo && {
          label: 'Undo',
          run: () => {
            undo().then(refresh).catch(toastError)
          },
        }
        toast(said, back ? { action: back } : {})
        return true
      } catch (error) {
        toastError(error)
        return false
      }
    },
    [ask],
  )
}
