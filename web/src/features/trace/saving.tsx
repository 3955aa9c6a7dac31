import { useMutation } from '@tanstack/react-query'
import { Download, PackageOpen } from 'lucide-react'
import { Button } from '../../components/button.tsx'
import { saveFile } from '../../components/save-file.ts'
import { toastError } from '../../components/toasts.tsx'

type SavingProps = {
  name: string
  isReady: boolean
  onWrite: () => Promise<string>
  /** Takes the drawing in as a file that arrives. */
  onTake: (drawing: File) => Promise<void>
}

/** What becomes of the drawing: a file, or a brush. */

export function Saving({ name, isReady, onWrite, onTake }: SavingProps) {
  const write = async () => new File([await onWrite()], `${name}, traced.svg`, { type: 'image/svg+xml' })
  const save = useMutation({
    mutationFn: write,
    onSuccess: (file) => saveFile(file, file.name),
    onError: toastError,
  })
  const take = useMutation({
    mutationFn: async () => onTake(await write()),
    onError: toastError,
  })
  return (
    <>
      <Button kind="primary" disabled={!isReady || save.isPending} onClick={() => save.mutate()}>
        <Download size={18} aria-hidden /> Save as SVG
      </Button>
      <Button disabled={!isReady || take.isPending} onClick={() => take.mutate()}>
        <PackageOpen size={18} aria-hidden /> Gather it as a brush
      </Button>
    </>
  )
}
