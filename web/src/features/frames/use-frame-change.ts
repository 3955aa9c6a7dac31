import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { toast, toastError } from '../../components/toasts.tsx'
import type { Brush } from '../../data/brush.ts'
import { brushQuery } from '../../data/brush.ts'
import { goToVersion } from '../../data/frames.ts'
import { useRefresh } from '../../data/use-refresh.ts'

/** Changes of a brush's frames: each is a version of its own, which the toast undoes. */
export function useFrameChange({ id, version, pictures }: Brush) {
  const ask = useRefresh()
  /** The frames as they were before the last change, while there are as many. */
  const [before, setBefore] = useState<Brush['pictures']>()
  const refresh = () => ask(brushQuery(id).queryKey)
  const undo = async () => {
    try {
      await goToVersion(id, version)
      await refresh()
      setBefore(undefined)
    } catch (error) {
      toastError(error)
    }
  }
  const change = useMutation({
    mutationFn: ({ run }: { run: () => Promise<unknown>; words: string }) => run(),
    onSuccess: async (_, { words }) => {
      setBefore(pictures)
      await refresh()
      toast(words, { action: { label: 'Undo', run: () => void undo() } })
    },
    onError: toastError,
  })
  return {
    isBusy: change.isPending,
    before,
    run: (words: string, run: () => Promise<unknown>) => change.mutate({ run, words }),
  }
}
