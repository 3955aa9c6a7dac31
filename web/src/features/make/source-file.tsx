import { EVERY_KIND, pickerList } from '@satchel/core/brush-file/picked-files'
import { useMutation } from '@tanstack/react-query'
import { Replace, Type } from 'lucide-react'
import { lazy, Suspense, useRef, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { TextField } from '../../components/field.tsx'
import { toastError } from '../../components/toasts.tsx'
import { type Picture, renameSource, type Source, sourceQuery } from '../../data/sources.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const WordsDialog = lazy(async () => ({ default: (await import('./begin/words-dialog.tsx')).WordsDialog }))

type Props = { source: Source; isBusy: boolean; onReplace: (picture: Picture) => void }

/** The file a source came from; another one may take its place, under the same steps. */
export function SourceFile({ source, isBusy, onReplace }: Props) {
  const input = useRef<HTMLInputElement>(null)
  const refresh = useRefresh()
  const [typed, setTyped] = useState<string>()
  const [isWriting, setIsWriting] = useState(false)
  const rename = useMutation({
    mutationFn: (name: string) => renameSource(source.id, name),
    onSuccess: () => refresh(sourceQuery(source.id).queryKey),
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
      {file.written && (
        <Button disabled={isBusy} onClick={() => setIsWriting(true)}>
          <Type size={18} aria-hidden /> Other words
        </Button>
      )}
      {isWriting && file.written && (
        <Suspense fallback={null}>
          <WordsDialog written={file.written} onClose={() => setIsWriting(false)} onPicture={onReplace} />
        </Suspense>
      )}
      <Button disabled={isBusy} onClick={() => input.current?.click()}>
        <Replace size={18} aria-hidden /> {isBusy ? 'Opening …' : 'Another picture'}
      </Button>
      <p className="text-12 text-quiet">The same steps run over it. Or drop it anywhere here.</p>
      <input
        ref={input}
        type="file"
        hidden
        accept={pickerList(EVERY_KIND)}
        data-testid="replace-source"
        onChange={(event) => {
          const [chosen] = event.target.files ?? []
          event.target.value = ''
          if (chosen) onReplace({ file: chosen })
        }}
      />
    </section>
  )
}
