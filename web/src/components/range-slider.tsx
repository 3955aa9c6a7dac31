import { Slider as Radix } from 'radix-ui'
import { useState } from 'react'
import { ResetMark } from './reset-mark.tsx'

type Range = { from: number; to: number }
type Props = {
  label: string
  unit: string
  min: number
  max: number
  step?: number
  value: Range
  usual: Range
  /** Why the control does nothing just now; an empty text where the one above has said it. */
  idle?: string | undefined
  onChange: (value: Range) => void
}

/** As much as a finger needs (WCAG 2.2, 2.5.8). */
const THUMB_PX = 24

/**
 * Two ends on one track: from … to, each also as a number. Each end is taken outside of what it bounds, the lower one
 * below and the upper one above, so that both can be taken where they lie together.
 */
export function RangeSlider({ label, unit, min, max, step = 1, value, usual, idle, onChange }: Props) {
  const set = (from: number, to: number) => onChange({ from: Math.min(from, to), to: Math.max(from, to) })
  return (
    <fieldset className="grid min-w-0 gap-1" aria-label={label}>
      <div className="flex items-center gap-1.5 text-13">
        <span className={`font-medium ${idle === undefined ? '' : 'text-quiet'}`}>{label}</span>
        {(value.from !== usual.from || value.to !== usual.to) && (
          <ResetMark label={label} onReset={() => onChange(usual)} />
        )}
        <span className="ml-auto flex items-baseline gap-1">
          <NumberBox
            label={`${label} from, ${unit}`}
            value={value.from}
            {...{ min, max, step }}
            onChange={(from) => set(from, value.to)}
          />
          <span className="text-quiet">to</span>
          <NumberBox
            label={`${label} to, ${unit}`}
            value={value.to}
            {...{ min, max, step }}
            onChange={(to) => set(value.from, to)}
          />
          <span className="w-5 text-quiet">{unit}</span>
        </span>
      </div>
      <Radix.Root
        min={min}
        max={max}
        step={step}
        value={[value.from, value.to]}
        onValueChange={([from = min, to = max]) => set(from, to)}
        className="relative mx-6 flex h-6 items-center"
      >
        <Radix.Track className="relative h-1 flex-1 rounded-4 bg-line">
          <Radix.Range className="absolute h-full rounded-4 bg-saddle" />
        </Radix.Track>
        {(
          [
            ['from', -1],
            ['to', 1],
          ] as const
        ).map(([end, side]) => (
          <Radix.Thumb
            key={end}
            aria-label={`${label} ${end}`}
            style={{ translate: `${(THUMB_PX / 2) * side - keptInside(value[end], min, max)}px` }}
            className={`flex size-6 items-center rounded-4 ${side < 0 ? 'justify-end' : 'justify-start'}`}
          >
            <span className="h-4 w-2.5 rounded-4 border-2 border-saddle bg-raised" />
          </Radix.Thumb>
        ))}
      </Radix.Root>
      {idle && <p className="text-12 text-quiet">{idle}</p>}
    </fieldset>
  )
}

/** By how much the slider moves an end towards the middle so as to keep it on the track; here it lies beside it. */
const keptInside = (value: number, min: number, max: number): number =>
  (THUMB_PX / 2) * (1 - (2 * (value - min)) / (max - min))

type BoxProps = {
  label: string
  value: number
  min: number
  max: number
  step: number
  onChange: (value: number) => void
}

/** A number that counts once one leaves it or presses Enter. */
export function NumberBox({ label, value, min, max, step, onChange }: BoxProps) {
  const [typed, setTyped] = useState<string>()
  const commit = () => {
    const number = Number(typed)
    if (typed !== undefined && typed.trim() !== '' && Number.isFinite(number)) {
      const whole = Number((Math.round(number / step) * step).toFixed(4))
      onChange(Math.min(max, Math.max(min, whole)))
    }
    setTyped(undefined)
  }
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      value={typed ?? String(value)}
      onChange={(event) => setTyped(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur()
        if (event.key === 'Escape') setTyped(undefined)
      }}
      className="measure h-6 w-12 rounded-4 border border-transparent bg-transparent text-right hover:border-line focus:border-line focus:bg-raised"
    />
  )
}
