import type { Recipe } from '@satchel/core/brush/recipe'
import { Eraser } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import type { GroundName, Rgb } from '../../workers/protocol.ts'
import { StrokeCanvas } from '../../workers/stroke-canvas.ts'
import { loadFrames } from './queries.ts'

const GROUNDS: readonly { value: GroundName; label: string }[] = [
  { value: 'paper', label: 'Paper' },
  { value: 'mid', label: 'Mid grey' },
  { value: 'black', label: 'Black' },
  { value: 'checker', label: 'Checker' },
]
/** A small palette of a shore: ink, kelp, rope, shell, sea, foam. */
const COLOURS: readonly { name: string; rgb: Rgb }[] = [
  { name: 'Ink', rgb: { r: 24, g: 24, b: 24 } },
  { name: 'Kelp', rgb: { r: 74, g: 92, b: 42 } },
  { name: 'Rope', rgb: { r: 154, g: 98, b: 46 } },
  { name: 'Dulse', rgb: { r: 146, g: 38, b: 54 } },
  { name: 'Sea', rgb: { r: 38, g: 92, b: 122 } },
  { name: 'Foam', rgb: { r: 246, g: 246, b: 240 } },
]

type Props = { pictures: readonly { blobSha: string }[]; recipe: Recipe }

/** The ground: gauge strokes that follow every change, and room for free strokes. */
export function Ground({ pictures, recipe }: Props) {
  const element = useRef<HTMLCanvasElement>(null)
  const canvas = useRef<StrokeCanvas>(undefined)
  const [ground, setGround] = useState<GroundName>('paper')
  const [colour, setColour] = useState(COLOURS[0])
  useEffect(() => {
    if (!element.current) return
    const made = new StrokeCanvas(element.current, (message) => toast(message, { tone: 'bad' }))
    canvas.current = made
    return () => made.close()
  }, [])
  const key = pictures.map((picture) => picture.blobSha).join()
  // biome-ignore lint/correctness/useExhaustiveDependencies: the pictures are the same while their names are
  useEffect(() => {
    let gone = false
    loadFrames(pictures)
      .then((frames) => {
        if (!gone)
          canvas.current?.post(
            { type: 'tip', frames },
            frames.map((frame) => frame.png),
          )
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [key])
  useEffect(() => {
    if (colour) canvas.current?.post({ type: 'look', recipe, colour: colour.rgb, ground })
  }, [recipe, colour, ground])
  return (
    <div className="flex min-h-0 flex-col gap-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-13">
        <fieldset className="flex items-center gap-1">
          <legend className="sr-only">Ground</legend>
          {GROUNDS.map(({ value, label }) => (
            <button
              key={value}
              type="button"
              aria-pressed={ground === value}
              onClick={() => setGround(value)}
              className={`rounded-4 border px-2 py-1 ${ground === value ? 'border-saddle bg-raised font-semibold text-saddle' : 'border-line hover:bg-raised'}`}
            >
              {label}
            </button>
          ))}
        </fieldset>
        <fieldset className="flex items-center gap-1.5">
          <legend className="sr-only">Colour</legend>
          {COLOURS.map((each) => (
            <button
              key={each.name}
              type="button"
              aria-pressed={colour === each}
              aria-label={each.name}
              title={each.name}
              onClick={() => setColour(each)}
              style={{ background: `rgb(${each.rgb.r} ${each.rgb.g} ${each.rgb.b})` }}
              className={`h-6 w-7 rounded-4 border ${colour === each ? 'outline-2 outline-offset-2 outline-saddle' : 'border-well-line'}`}
            />
          ))}
        </fieldset>
        <Button kind="quiet" className="ml-auto text-13" onClick={() => canvas.current?.post({ type: 'clear' })}>
          <Eraser size={18} aria-hidden /> Wipe free strokes
        </Button>
      </div>
      <canvas
        ref={element}
        data-testid="ground"
        role="img"
        aria-label="Gauge strokes and your own: draw here to try the brush"
        className="well min-h-80 w-full flex-1 touch-none cursor-crosshair"
      />
      <p className="text-13 text-quiet">
        Level line with rising and falling pressure, S curve at 70 %, fast zigzag, three single stamps. Draw over them
        to try the brush.
      </p>
    </div>
  )
}
