import { EVERY_KIND, pickerList } from '@satchel/core/brush-file/picked-files'
import { WAY_NAMES, WAYS, type Way } from '@satchel/core/make/ways'
import { ImagePlus, PenLine, Smartphone, Type } from 'lucide-react'
import { type DragEvent, lazy, Suspense, useRef, useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Choices } from '../../../components/controls.tsx'
import { Progress } from '../../../components/progress.tsx'
import type { Picture } from '../../../data/sources.ts'

const WordsDialog = lazy(async () => ({ default: (await import('./words-dialog.tsx')).WordsDialog }))
const PenDialog = lazy(async () => ({ default: (await import('./pen-dialog.tsx')).PenDialog }))

type Props = {
  way: Way
  onWay: (way: Way) => void
  onFiles: (files: File[]) => void
  onPicture: (picture: Picture) => void
  /** Asked for photographs from a phone. */
  onPhone: () => void
  large: boolean
  busy: { done: number; total: number } | undefined
}

/** Where a source begins: the way, and the pictures, dropped or chosen. */
export function BeginArea({ way, onWay, onFiles, onPicture, onPhone, large, busy }: Props) {
  const [over, setOver] = useState(false)
  const [dialog, setDialog] = useState<'words' | 'pen'>()
  const takesPictures = WAYS[way].beginsWith === 'picture'
  const input = useRef<HTMLInputElement>(null)
  const drop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    onFiles([...event.dataTransfer.files])
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: dropping is for the pointer; the button inside does the same by keyboard
    <div
      data-testid="begin-area"
      onDragOver={(event) => {
        event.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`mb-5 grid justify-items-center gap-3 rounded-10 border-2 border-dashed px-6 text-center ${large ? 'py-12' : 'py-4'} ${over ? 'border-saddle bg-raised' : 'border-line bg-surface'}`}
    >
      {large && <h2 className="font-title text-24">Lay a picture here</h2>}
      <Choices
        label="Begin with"
        value={way}
        choices={WAY_NAMES.map((value) => ({ value, label: WAYS[value].word }))}
        onChange={onWay}
      />
      <p className="max-w-prose text-quiet">{WAYS[way].about}</p>
      <div className="flex flex-wrap justify-center gap-2">
        <Button kind={large ? 'primary' : 'plain'} onClick={() => input.current?.click()} disabled={busy !== undefined}>
          <ImagePlus size={18} aria-hidden /> Choose pictures
        </Button>
        <Button onClick={onPhone}>
          <Smartphone size={18} aria-hidden /> From a phone
        </Button>
        {takesPictures && (
          <>
            <Button kind="quiet" onClick={() => setDialog('words')}>
              <Type size={18} aria-hidden /> Write words
            </Button>
            <Button kind="quiet" onClick={() => setDialog('pen')}>
              <PenLine size={18} aria-hidden /> Draw by pen
            </Button>
          </>
        )}
      </div>
      <Suspense fallback={null}>
        {dialog === 'words' && (
          <WordsDialog written={undefined} onClose={() => setDialog(undefined)} onPicture={onPicture} />
        )}
        {dialog === 'pen' && <PenDialog onClose={() => setDialog(undefined)} onPicture={onPicture} />}
      </Suspense>
      {busy && (
        <div className="w-56 text-13 text-quiet" role="status">
          <Progress done={busy.done} total={busy.total} label="Opening" />
          Opening {busy.done + 1} of {busy.total}
        </div>
      )}
      <input
        ref={input}
        type="file"
        multiple
        hidden
        accept={pickerList(EVERY_KIND)}
        data-testid="choose-source"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])]
          event.target.value = ''
          if (files.length > 0) onFiles(files)
        }}
      />
    </div>
  )
}
