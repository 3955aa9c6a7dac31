import { useMutation } from '@tanstack/react-query'
import { plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import type { InstallEntry } from '../../data/installs.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { folderOf } from './install-folder.ts'

/** Takes several installs out, one after the other, wherever they lie. */
export function useOutAll(installs: readonly InstallEntry[], onOut: () => void) {
  const refresh = useRefresh()
  return useMutation({
    mutationFn: async () => {
      let stayed = 0
      for (const install of installs) {
        stayed += (await (await folderOf(install)).takeOut()).stayed.length
      }
      return { count: installs.length, stayed }
    },
    onSuccess: ({ count, stayed }) => {
      const out = `${plural(count, 'install')} taken out`
      toast(stayed === 0 ? `${out}.` : `${out}; ${plural(stayed, 'file')} stayed that somebody has changed since.`)
      onOut()
    },
    onError: toastError,
    onSettled: () => refresh('fit'),
  })
}
