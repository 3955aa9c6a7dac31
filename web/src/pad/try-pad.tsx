import { Download, Eraser, Redo2, Undo2 } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Button } from '../components/button.tsx'
import { ColourChoice, INK } from '../components/colour-choice.tsx'
import { type FetchedBrush, PadCanvas, type PadSteps } from '../workers/pad/pad-canvas.ts'

const HEIGHT_PX = { least: 280, most: 520 }

type Props = {
  /** What the brushes are of; what is kept is called by it. */
  title: string
  brushes: readonly { id: string; name: string }[]
  stroke: (id: string) => string
  /** Fetches all that painting with a brush takes; as long as it is this function, what was fetched still holds. */
  fetchBrush: (id: string) => Promise<FetchedBrush>
  /** The brush in hand. */
  held: string
  onHold: (id: string) => void
}

/** A sheet to paint on with brushes of others, at the sizes that their maker has set, before anything is taken. */
export function TryPad({ title, brushes, stroke, fetchBrush, held, onHold }: Props) {
  const element = useRef<HTMLCanvasElement>(null)
  const pad = useRef<PadCanvas>(undefined)
  const [colour, setColour] = useState(INK)
  const [steps, setSteps] = useState<PadSteps>({ back: 0, again: 0 })
  const [said, setSaid] = useState('')
  const [ready, setReady] = useState('')
  useEffect(() => {
    const canvas = element.current
    if (!canvas) return
    const { width } = canvas.getBoundingClientRect()
    canvas.width = Math.max(1, Math.round(width))
    canvas.height = Math.min(HEIGHT_PX.most, Math.max(HEIGHT_PX.least, Math.round(window.innerHeight * 0.55)))
    const made = new PadCanvas(canvas, { onSteps: setSteps, onProblem: setSaid })
    pad.current = made
    return () => made.close()
  }, [])
  useEffect(() => {
    pad.current
      ?.use(held, colour, () => fetchBrush(held))
      .then((isHeld) => {
        if (!isHeld) return
        setReady(held)
        setSaid('')
      })
      .catch((problem: Error) => setSaid(problem.message))
  }, [held, colour, fetchBrush])
  const act = (what: 'clear' | 'takeBack' | 'doAgain') => pad.current?.act(what)
  const save = () =>
    element.current?.toBlob((blob) => {
      if (!blob) return
      const link = document.createElement('a')
      link.href = URL.createObjectURL(blob)
      link.download = `${title}, tried.png`
      link.click()
      URL.revokeObjectURL(link.href)
    }, 'image/png')
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys of what is within, beside its buttons
    <div
      className="grid grid-cols-[minmax(0,1fr)] gap-3"
      onKeyDown={(event) => {
        if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
        event.preventDefault()
        act(event.shiftKey ? 'doAgain' : 'takeBack')
      }}
    >
      <BrushRow {...{ brushes, stroke, held, onHold }} />
      <canvas
        ref={element}
        data-testid="try-pad"
        data-ready={ready}
        role="img"
        aria-label="A sheet of paper: paint here"
        tabIndex={0}
        className="w-full cursor-crosshair touch-none rounded-6 border border-line bg-white"
      />
      <p role="status" className={said ? 'text-madder' : 'sr-only'}>
        {said || (ready === held ? 'The brush is ready.' : 'The brush is coming.')}
      </p>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <ColourChoice colour={colour} onColour={setColour} />
        <div className="flex flex-wrap gap-2">
          <Button disabled={steps.back === 0} onClick={() => act('takeBack')}>
            <Undo2 size={18} aria-hidden /> Undo
          </Button>
          <Button disabled={steps.again === 0} onClick={() => act('doAgain')}>
            <Redo2 size={18} aria-hidden /> Redo
          </Button>
          <Button onClick={() => act('clear')}>
            <Eraser size={18} aria-hidden /> New sheet
          </Button>
          <Button onClick={save}>
            <Download size={18} aria-hidden /> Keep the picture
          </Button>
        </div>
      </div>
    </div>
  )
}

type RowProps = Pick<Props, 'brushes' | 'stroke' | 'held' | 'onHold'>

/** The brushes, in their order. */
function BrushRow({ brushes, stroke, held, onHold }: RowProps) {
  return (
    <fieldset className="flex min-w-0 gap-2 overflow-x-auto pb-1">
      <legend className="sr-only">Brush</legend>
      {brushes.map(({ id, name }) => (
        <label
          key={id}
          className={`relative grid w-32 shrink-0 cursor-pointer gap-1 rounded-6 border bg-raised p-1.5 has-[:focus-visible]:outline-2 ${held === id ? 'border-saddle outline-2 outline-saddle' : 'border-line'}`}
        >
          <input
            type="radio"
            name="brush"
            value={id}
            className="sr-only"
            checked={held === id}
            onChange={() => onHold(id)}
          />
          <img src={stroke(id)} alt="" loading="lazy" decoding="async" className="well h-10 w-full object-contain" />
          <span className="truncate text-13">{name}</span>
        </label>
      ))}
    </fieldset>
  )
}
