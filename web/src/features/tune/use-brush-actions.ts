import { useMutation } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { toast, toastError } from '../../components/toasts.tsx'
import { type Brush, brushQuery, copyBrush, labelVersion } from '../../data/brush.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import type { CopyWish } from './facts/copy-dialog.tsx'

/** What can be done with a brush besides changing it: naming versions, copying. */
export function useBrushActions({ id, name }: Brush) {
  const refresh = useRefresh()
  const navigate = useNavigate()
  const label = useMutation({
    mutationFn: ({ ordinal, label: text }: { ordinal: number; label: string }) => labelVersion(id, ordinal, text),
    onSuccess: () => refresh(brushQuery(id).queryKey),
    onError: toastError,
  })
  const copy = useMutation({
    mutationFn: (wish: CopyWish) => copyBrush(id, wish),
    onSuccess: async (made, wish) => {
      await refresh('brushes')
      void navigate(`/tune/${made.id}`)
      toast(`"${wish.name}" is a copy of "${name}".`)
    },
    onError: toastError,
  })
  return { label, copy }
}
