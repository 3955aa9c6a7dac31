import type { Rgb } from '@satchel/core/raster/srgb'
import { Columns2, Eraser, Rows3, ZoomIn, ZoomOut } from 'lucide-react'
import type { ReactNode } from 'react'
import { Button } from '../../../components/button.tsx'
import { ColourChoice } from '../../../components/colour-choice.tsx'
import type { HandSettings } from '../../../workers/stroke/pointer-strokes.ts'
import type { BackdropName } from '../../../workers/stroke/protocol.ts'

const BACKDROPS: readonly { value: BackdropName; label: string }[] = [
  { value: 'paper', label: 'Paper' },
  { value: 'mid', label: 'Mid grey' },
  { value: 'black', label: 'Black' },
  { value: 'checker', label: 'Checker' },
]

/** A button that stays pressed. */
export function Toggle({
  on,
  onChange,
  children,
  title,
}: {
  on: boolean
  onChange: () => void
  children: ReactNode
  title?: string
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      title={title}
      onClick={onChange}
      className={`inline-flex items-center gap-1.5 rounded-4 border px-2 py-1 ${on ? 'border-saddle bg-raised font-semibold text-saddle' : 'border-line hover:bg-raised'}`}
    >
      {children}
    </button>
  )
}

type LookProps = {
  backdrop: BackdropName
  onBackdrop: (backdrop: BackdropName) => void
  colour: Rgb
  onColour: (colour: Rgb) => void
}

/** What the strokes lie on and their colour. */
export function BackdropAndColour({ backdrop, onBackdrop, colour, onColour }: LookProps) {
  return (
    <>
      <fieldset className="flex items-center gap-1">
        <legend className="sr-only">Backdrop</legend>
        {BACKDROPS.map(({ value, label }) => (
          <Toggle key={value} on={backdrop === value} onChange={() => onBackdrop(value)}>
            {label}
          </Toggle>
        ))}
      </fieldset>
      <ColourChoice colour={colour} onColour={onColour} />
    </>
  )
}

type ViewProps = {
  isSpread: boolean
  onSpread: () => void
  isSplit: boolean
  onSplit: () => void
  onHoldBefore: (held: boolean) => void
  zoom: number
  onZoom: (direction: 1 | -1) => void
  onWipe: () => void
}

/** How the strokes are looked at. */
export function ViewBar({ isSpread, onSpread, isSplit, onSplit, onHoldBefore, zoom, onZoom, onWipe }: ViewProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2 text-13">
      <Toggle on={isSpread} onChange={onSpread} title="Key s">
        <Rows3 size={18} aria-hidden /> Spread stamps
      </Toggle>
      <button
        type="button"
        title="Hold key b"
        onPointerDown={() => onHoldBefore(true)}
        onPointerUp={() => onHoldBefore(false)}
        onPointerLeave={() => onHoldBefore(false)}
        className="rounded-4 border border-line px-2 py-1 hover:bg-raised"
      >
        Hold for before
      </button>
      <Toggle on={isSplit} onChange={onSplit}>
        <Columns2 size={18} aria-hidden /> Split
      </Toggle>
      <span className="flex items-center gap-1">
        <button
          type="button"
          aria-label="Zoom out"
          onClick={() => onZoom(-1)}
          className="grid h-7 w-7 place-content-center rounded-4 hover:bg-raised"
        >
          <ZoomOut size={18} aria-hidden />
        </button>
        <span className="measure w-12 text-center" role="status" aria-label="Zoom">
          {Math.round(zoom * 100)} %
        </span>
        <button
          type="button"
          aria-label="Zoom in"
          onClick={() => onZoom(1)}
          className="grid h-7 w-7 place-content-center rounded-4 hover:bg-raised"
        >
          <ZoomIn size={18} aria-hidden />
        </button>
      </span>
      <Button kind="quiet" className="ml-auto text-13" onClick={onWipe}>
        <Eraser size={18} aria-hidden /> Wipe free strokes
      </Button>
    </div>
  )
}

/** How the hand is taken up when one draws. */
export function HandBar({ hand, onHand }: { hand: HandSettings; onHand: (hand: HandSettings) => void }) {
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-1 text-13">
      <label className="flex items-center gap-2">
        Steadied
        <input
          type="range"
          min={0}
          max={1}
          step={0.05}
          value={hand.steady}
          aria-valuetext={`${Math.round(hand.steady * 100)} %`}
          onChange={(event) => onHand({ ...hand, steady: Number(event.target.value) })}
          className="w-24"
        />
        <span className="measure w-10">{Math.round(hand.steady * 100)} %</span>
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={hand.mouse === 'speed'}
          onChange={(event) => onHand({ ...hand, mouse: event.target.checked ? 'speed' : 'even' })}
          className="h-4 w-4"
        />
        A mouse presses less the faster it goes
      </label>
    </div>
  )
}
