import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { toast, toastError } from '../../components/toasts.tsx'
import type { CopyWish } from './copy-dialog.tsx'
import { type Brush, brushQuery, copyBrush, labelVersion } from './queries.ts'

/** What can be done with a brush besides changing it: naming versions, copying. */
export function useBrushActions({ id, name }: Brush) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const label = useMutation({
    mutationFn: ({ ordinal, label: text }: { ordinal: number; label: string }) => labelVersion(id, ordinal, text),
    onSuccess: () => client.invalidateQueries({ queryKey: brushQuery(id).queryKey }),
    onError: toastError,
  })
  const copy = useMutation({
    mutationFn: (wish: CopyWish) => copyBrush(id, wish),
    onSuccess: async (made, wish) => {
      await client.invalidateQueries({ queryKey: ['brushes'] })
      void navigate(`/tune/${made.id}`)
      toast(`"${wish.name}" is a copy of "${name}".`)
    },
    onError: toastError,
  })
  return { label, copy }
}
