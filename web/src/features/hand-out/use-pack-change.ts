import { useCallback } from 'react'
import { toast, toastError } from '../../components/toasts.tsx'
import { useRefresh } from '../../data/use-refresh.ts'

/** Runs a change of a pack, and refreshes what shows packs. @returns What the change gave, or undefined when it failed. */
export function usePackChange() {
  const ask = useRefresh()
  return useCallback(
    async <Result>(
      change: () => Promise<Result>,
      said?: { text: string | ((result: Result) => string); undo?: () => Promise<unknown> },
    ): Promise<Result | undefined> => {
      const refresh = () => ask('packs', 'pack', 'tally')
      try {
        const result = await change()
        await refresh()
        const undo = said?.undo
        if (said)
          toast(
            typeof said.text === 'string' ? said.text : said.text(result),
            undo ? { action: { label: 'Undo', run: () => void undo().then(refresh).catch(toastError) } } : {},
          )
        return result
      } catch (error) {
        toastError(error)
        // what was refused may be another one by now
        await refresh()
        return undefined
      }
    },
    [ask],
  )
}
