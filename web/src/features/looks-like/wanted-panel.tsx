import { type PenStroke, toPenSvg } from '@satchel/core/make/pen-drawing'
import { useQuery } from '@tanstack/react-query'
import { ImageUp, Undo2 } from 'lucide-react'
import { type DragEvent, useEffect, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Choices, choicesOf } from '../../components/controls.tsx'
import { PenArea } from '../../components/pen-area.tsx'
import { brushQuery } from '../../data/brush.ts'
import { LIKE_BY, type LikeBy, type Wanted } from '../../data/looks.ts'

type Picture = Extract<Wanted, { picture: Blob }>
type Props = {
  by: LikeBy
  /** The brush that others are to be like, where it is one. */
  brushId: string | undefined
  onBy: (by: LikeBy) => void
  onPicture: (picture: Picture | undefined) => void
}

/** How thick the pen draws, as a share of the side. */
const PEN_WIDTH = 0.05

const SAID: Record<LikeBy, string> = {
  mark: 'Draw the mark: its outline filled, or as lines.',
  stroke: 'Draw one long stroke, as the brush is to paint it.',
}

/** What brushes are looked for by: one of them, a picture, or a drawing that is made here. */
export function WantedPanel({ by, brushId, onBy, onPicture }: Props) {
  const [strokes, setStrokes] = useState<readonly PenStroke[]>([])
  const [file, setFile] = useState<File>()
  const draw = (next: readonly PenStroke[]) => {
    setStrokes(next)
    setFile(undefined)
    const svg = toPenSvg(next)
    onPicture(
      next.length > 0
        ? { picture: new Blob([svg], { type: 'image/svg+xml' }), name: 'a drawing', key: svg }
        : undefined,
    )
  }
  const choose = (chosen: File | undefined) => {
    if (!chosen) return
    setStrokes([])
    setFile(chosen)
    onPicture({ picture: chosen, name: chosen.name, key: `${chosen.name} ${chosen.size} ${chosen.lastModified}` })
  }
  const drop = (event: DragEvent) => {
    event.preventDefault()
    choose(event.dataTransfer.files[0])
  }
  return (
    <section aria-label="What is looked for" className="grid content-start gap-4 overflow-auto">
      <Choices label="Compare" value={by} choices={choicesOf(LIKE_BY)} onChange={onBy} />
      {brushId && <WantedBrush id={brushId} by={by} />}
      <label
        onDragOver={(event) => event.preventDefault()}
        onDrop={drop}
        className="grid cursor-pointer justify-items-center gap-1.5 rounded-10 border border-dashed border-line bg-surface p-3 text-center hover:border-saddle has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-slate"
      >
        {file ? (
          <ChosenPicture file={file} />
        ) : (
          <>
            <ImageUp size={22} aria-hidden />
            <span>Choose a picture, or drop it here</span>
          </>
        )}
        <input
          type="file"
          aria-label="A picture to look for"
          className="sr-only"
          onChange={({ target }) => {
            choose(target.files?.[0])
            target.value = ''
          }}
        />
      </label>
      <div className="grid gap-2">
        <p className="text-13 text-quiet">{SAID[by]}</p>
        <PenArea
          strokes={strokes}
          width={PEN_WIDTH}
          className="w-full max-w-[280px]"
          onStroke={(stroke) => draw([...strokes, stroke])}
        />
        <div className="flex gap-2">
          <Button disabled={strokes.length === 0} onClick={() => draw(strokes.slice(0, -1))}>
            <Undo2 size={18} aria-hidden /> Last line away
          </Button>
          <Button kind="quiet" disabled={strokes.length === 0} onClick={() => draw([])}>
            Begin anew
          </Button>
        </div>
      </div>
    </section>
  )
}

function WantedBrush({ id, by }: { id: string; by: LikeBy }) {
  const brush = useQuery(brushQuery(id)).data
  return (
    <div className="grid gap-1.5">
      <span className="text-13 font-medium">Like this brush</span>
      <img
        src={by === 'mark' ? `/api/brushes/${id}/tip.png` : `/api/brushes/${id}/stroke.png?size=line`}
        alt=""
        className="well max-h-28 w-full object-contain"
      />
      <span>{brush?.name}</span>
    </div>
  )
}

/** The picture as it was chosen; a kind that the browser does not show says only its name. */
function ChosenPicture({ file }: { file: File }) {
  const [address, setAddress] = useState<string>()
  useEffect(() => {
    const made = URL.createObjectURL(file)
    setAddress(made)
    return () => URL.revokeObjectURL(made)
  }, [file])
  return (
    <>
      {address && <img src={address} alt="" className="well max-h-28 w-full object-contain" />}
      <span className="max-w-full truncate">{file.name}</span>
    </>
  )
}
