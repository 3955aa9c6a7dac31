import type { Ribbon } from '@satchel/core/brush/recipe'
import { Link2 } from 'lucide-react'
import { type KeyboardEvent, type PointerEvent, useRef } from 'react'
import { Button } from '../../../components/button.tsx'
import type { Findings } from '../../../workers/stroke/protocol.ts'

/** A join below this cannot be seen; common practice, no source. */
const SEEN = 1.5

type Props = {
  ribbon: Ribbon
  stripUrl: string
  findings: Findings | undefined
  onChange: (bounds: { leadInPx?: number; leadOutPx?: number }) => void
  onFindJoin: () => void
}

/** The strip with its lead-in and lead-out to drag, and the break where the repeated part meets itself. */
export function RibbonBounds({ ribbon, stripUrl, findings, onChange, onFindJoin }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const width = findings?.strip?.width ?? 1
  const { leadInPx, leadOutPx } = ribbon
  const toPx = (event: PointerEvent) => {
    const rect = box.current?.getBoundingClientRect()
    return rect ? Math.round(((event.clientX - rect.left) / rect.width) * width) : 0
  }
  const setIn = (px: number) => onChange({ leadInPx: Math.min(width - leadOutPx - 1, Math.max(0, px)) })
  const setOut = (px: number) => onChange({ leadOutPx: Math.min(width - leadInPx - 1, Math.max(0, px)) })
  const found = findings?.joinBreak
  return (
    <div className="grid gap-1.5">
      <p className="text-13 font-medium">The repeated part</p>
      <div ref={box} className="well relative touch-none">
        <img src={stripUrl} alt="The strip" className="block h-14 w-full object-fill" draggable={false} />
        <div className="absolute inset-y-0 left-0 bg-black/35" style={{ width: `${(leadInPx / width) * 100}%` }} />
        <div className="absolute inset-y-0 right-0 bg-black/35" style={{ width: `${(leadOutPx / width) * 100}%` }} />
        <Handle
          label="Lead-in"
          at={leadInPx / width}
          px={leadInPx}
          max={width}
          onMove={setIn}
          onDrag={(event) => setIn(toPx(event))}
        />
        <Handle
          label="Lead-out"
          at={1 - leadOutPx / width}
          px={leadOutPx}
          max={width}
          onMove={setOut}
          onDrag={(event) => setOut(width - toPx(event))}
          reversed
        />
      </div>
      <p className="measure text-quiet">
        lead-in {leadInPx} px, lead-out {leadOutPx} px of {width}
      </p>
      {found !== undefined && (
        <p role="status" className={`text-13 ${found > SEEN ? 'text-amber' : 'text-quiet'}`}>
          Break at the join: <span className="measure">{found.toFixed(2)}</span>
          {found > SEEN ? ', it shows' : ', it cannot be seen'}
        </p>
      )}
      <Button className="justify-self-start text-13" onClick={onFindJoin}>
        <Link2 size={16} aria-hidden /> Close it
      </Button>
    </div>
  )
}

type HandleProps = {
  label: string
  at: number
  px: number
  max: number
  reversed?: boolean
  onMove: (px: number) => void
  onDrag: (event: PointerEvent) => void
}

function Handle({ label, at, px, max, reversed = false, onMove, onDrag }: HandleProps) {
  const onKey = (event: KeyboardEvent) => {
    const direction = { ArrowRight: 1, ArrowLeft: -1 }[event.key]
    if (!direction) return
    event.preventDefault()
    onMove(px + (reversed ? -direction : direction) * (event.shiftKey ? 10 : 1))
  }
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={max}
      aria-valuenow={px}
      aria-valuetext={`${px} px`}
      onKeyDown={onKey}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) onDrag(event)
      }}
      className="absolute inset-y-0 w-3 -translate-x-1/2 cursor-ew-resize touch-none before:absolute before:inset-y-0 before:left-1/2 before:w-0.5 before:bg-saddle"
      style={{ left: `${at * 100}%` }}
    />
  )
}
