import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Replace } from 'lucide-react'
import { useRef, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { TextField } from '../../components/field.tsx'
import { toastError } from '../../components/toasts.tsx'
import { renameSource, type Source, sourceQuery } from './queries.ts'

type Props = { source: Source; isBusy: boolean; onReplace: (file: File) => void }

/** The file a source came from; another one may take its place, under the same steps. */
export function SourceFile({ source, isBusy, onReplace }: Props) {
  const input = useRef<HTMLInputElement>(null)
  const client = useQueryClient()
  const [typed, setTyped] = useState<string>()
  const rename = useMutation({
    mutationFn: (name: string) => renameSource(source.id, name),
    onSuccess: () => client.invalidateQueries({ queryKey: sourceQuery(source.id).queryKey }),
    onError: toastError,
    onSettled: () => setTyped(undefined),
  })
  const { file } = source
  return (
    <section className="grid gap-2">
      <TextField
        label="Name"
        value={typed ?? source.name}
        maxLength={120}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => {
          const name = typed?.trim()
          if (name && name !== source.name) rename.mutate(name)
          else setTyped(undefined)
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur()
        }}
      />
      <div>
        <h2 className="mb-1 text-13 font-medium text-quiet">Its picture</h2>
        <p className="break-words text-13">
          {file.name}, <span className="measure">{`${file.width} × ${file.height}`}</span>
        </p>
      </div>
      <Button disabled={isBusy} onClick={() => input.current?.click()}>
        <Replace size={18} aria-hidden /> {isBusy ? 'Opening …' : 'Another picture'}
      </Button>
      <p className="text-12 text-quiet">The same steps run over it. Or drop it anywhere here.</p>
      <input
        ref={input}
        type="file"
        hidden
        accept="image/*,.gbr,.gih,.ora,.obj,.stl"
        data-testid="replace-source"
        onChange={(event) => {
          const [chosen] = event.target.files ?? []
          event.target.value = ''
          if (chosen) onReplace(chosen)
        }}
      />
    </section>
  )
}
