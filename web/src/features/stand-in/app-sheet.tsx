import type { StandInName } from '@satchel/core/destinations/destination'
import { toBytes } from '@satchel/core/raster/base64'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { LoadError } from '../../components/states.tsx'
import { toast } from '../../components/toasts.tsx'
import { foundBrushQuery } from '../../data/installs.ts'
import { StrokeCanvas } from '../../workers/stroke/stroke-canvas.ts'

const SHEET_HEIGHT_PX = 300
/** Colours to try a brush in; the app's own, and plain. */
const COLOURS = [
  { name: 'soot', rgb: { r: 28, g: 28, b: 28 } },
  { name: 'brick', rgb: { r: 150, g: 58, b: 40 } },
  { name: 'lake', rgb: { r: 36, g: 84, b: 120 } },
] as const

type Props = { standIn: StandInName; brush: { path: string; name: string; files: readonly string[] }; version: number }

/** A sheet of the simulated app: what one draws here is painted with what it has found, with mouse, pen or finger. */
export function AppSheet({ standIn, brush, version }: Props) {
  const element = useRef<HTMLCanvasElement>(null)
  const frame = useRef<HTMLDivElement>(null)
  const canvas = useRef<StrokeCanvas>(undefined)
  const [colour, setColour] = useState<(typeof COLOURS)[number]>(COLOURS[0])
  const [isPainted, setPainted] = useState(false)
  const found = useQuery(foundBrushQuery(standIn, brush, version))
  useEffect(() => {
    if (!element.current || !frame.current) return
    const made = new StrokeCanvas(element.current, {
      onProblem: (message) => toast(message, { tone: 'bad' }),
      onFirstPicture: () => setPainted(true),
    })
    canvas.current = made
    const watch = new ResizeObserver(([entry]) => {
      if (entry) made.resize(Math.round(entry.contentRect.width), SHEET_HEIGHT_PX)
    })
    watch.observe(frame.current)
    return () => {
      watch.disconnect()
      made.close()
    }
  }, [])
  const { data } = found
  useEffect(() => {
    if (!data) return
    const frames = data.frames.map(toBuffer)
    const grain = data.grain === null ? undefined : toBuffer(data.grain)
    const key = `${brush.path} ${version}`
    canvas.current?.tell('tip', key, frames, frames)
    canvas.current?.tell('grain', key, grain, grain ? [grain] : [])
  }, [data, brush.path, version])
  useEffect(() => {
    if (!data) return
    const { recipe } = data
    canvas.current?.tellLook({
      recipe,
      show: 'after',
      splitAt: 0,
      colour: colour.rgb,
      backdrop: 'paper',
      strokes: 'line',
    })
  }, [data, colour])
  return (
    <section aria-label="Its sheet" className="mb-6 border-2 border-[#6b726c] bg-[#f7f7f7]">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2 border-b border-[#8a918b] px-3 py-2 text-13">
        <strong className="truncate">{brush.name}</strong>
        <fieldset className="flex flex-wrap items-center gap-3">
          <legend className="sr-only">Colour</legend>
          {COLOURS.map((each) => (
            <label key={each.name} className="flex items-center gap-1.5">
              <input type="radio" name="sheet-colour" checked={each === colour} onChange={() => setColour(each)} />
              {each.name}
            </label>
          ))}
        </fieldset>
        <button type="button" className="underline" onClick={() => canvas.current?.clear()}>
          A fresh sheet
        </button>
        <span className="text-[#4c544e]">Draw below, with mouse, pen or finger.</span>
      </div>
      {found.isError && <LoadError error={found.error} onRetry={() => void found.refetch()} />}
      <div ref={frame} style={{ height: SHEET_HEIGHT_PX }}>
        <canvas
          ref={element}
          data-testid="app-sheet"
          role="img"
          aria-label={`Sheet painted with ${brush.name}: draw here to try it`}
          className={`block max-w-none touch-none cursor-crosshair ${isPainted ? '' : 'invisible'}`}
        />
      </div>
    </section>
  )
}

const toBuffer = (text: string): ArrayBuffer => {
  const bytes = toBytes(text)
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
}
