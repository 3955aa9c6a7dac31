import { useCallback } from 'react'
import { toast, toastError } from '../../components/toasts.tsx'
import { useRefresh } from '../../data/use-refresh.ts'

/** Does something about members, says so, and shows how they stand then. @returns Whether it was done. */
export function useMemberChange() {
  const refresh = useRefresh()
  return useCallback(
    async (change: () => Promise<unknown>, said?: string, undo?: () => Promise<unknown>): Promise<boolean> => {
      const anew = () => refresh('members', 'session', 'audit')
      try {
        await change()
        if (said)
          toast(said, undo ? { action: { label: 'Undo', run: () => void undo().then(anew).catch(toastError) } } : {})
        return true
      } catch (error) {
        toastError(error)
        return false
      } finally {
        await anew()
      }
    },
    [refresh],
  )
}
