import { type ReactNode, useId, useState } from 'react'
import { NumberBox } from './range-slider.tsx'
import { ResetMark } from './reset-mark.tsx'

/** A group of the recipe, foldable; open where it is in use. */
export function Group({
  title,
  note,
  inUse,
  children,
}: {
  title: string
  note: string
  inUse: boolean
  children: ReactNode
}) {
  const [open, setOpen] = useState(inUse)
  return (
    <section className="border-b border-line">
      <h3>
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="flex w-full items-baseline justify-between gap-2 py-2.5 text-left"
        >
          <span className="font-title text-18">{title}</span>
          <span className="text-12 text-quiet">{open ? note : inUse ? 'in use' : note}</span>
        </button>
      </h3>
      {open && <div className="grid gap-3 pb-4">{children}</div>}
    </section>
  )
}

type SliderProps = {
  label: string
  value: number
  usual: number
  min: number
  max: number
  step?: number
  unit: string
  /** Small values matter more: the slider runs by square root. */
  eased?: boolean
  /** Why the control does nothing just now; an empty text where the one above has said it. */
  idle?: string | undefined
  onChange: (value: number) => void
}

/** Label, slider, number with unit, and a mark that puts it back. */
export function Slider({ label, value, usual, min, max, step = 1, unit, eased = false, idle, onChange }: SliderProps) {
  const id = useId()
  const toTrack = (number: number) => (eased ? Math.sqrt((number - min) / (max - min)) : (number - min) / (max - min))
  const fromTrack = (share: number) => min + (max - min) * (eased ? share * share : share)
  const round = (number: number) => Number((Math.round(number / step) * step).toFixed(4))
  return (
    <div className="grid grid-cols-[1fr_auto] items-center gap-x-2 gap-y-1">
      <label
        htmlFor={id}
        className={`flex items-center gap-1.5 text-13 font-medium ${idle === undefined ? '' : 'text-quiet'}`}
      >
        {label}
        {value !== usual && <ResetMark label={label} onReset={() => onChange(usual)} />}
      </label>
      <span className="flex items-baseline gap-1">
        <NumberBox label={`${label}, ${unit}`} {...{ value, min, max, step, onChange }} />
        <span className="w-7 text-13 text-quiet">{unit}</span>
      </span>
      <input
        id={id}
        type="range"
        min={0}
        max={1}
        step="any"
        value={toTrack(value)}
        aria-valuetext={`${value} ${unit}`}
        onChange={(event) => onChange(round(fromTrack(Number(event.target.value))))}
        onKeyDown={(event) => {
          const direction = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key]
          if (!direction) return
          event.preventDefault()
          onChange(Math.min(max, Math.max(min, round(value + direction * step * (event.shiftKey ? 10 : 1)))))
        }}
        className="col-span-2 h-6 w-full"
      />
      {idle && <p className="col-span-2 text-12 text-quiet">{idle}</p>}
    </div>
  )
}

/** What can be chosen, by a table of its words. */
export const choicesOf = <Value extends string>(words: Readonly<Record<Value, string>>) =>
  (Object.entries(words) as [Value, string][]).map(([value, label]) => ({ value, label }))

export function Choices<Value extends string>({
  label,
  value,
  choices,
  idle,
  isUnlabelled = false,
  onChange,
}: {
  label: string
  value: Value
  choices: readonly { value: Value; label: string }[]
  /** The label is heard and not seen: what is chosen stands right above. */
  isUnlabelled?: boolean
  /** Why the choice does nothing just now. */
  idle?: string | undefined
  onChange: (value: Value) => void
}) {
  const name = useId()
  return (
    <fieldset className="grid gap-1">
      <legend className={isUnlabelled ? 'sr-only' : 'mb-1 text-13 font-medium'}>{label}</legend>
      <div className="flex flex-wrap gap-1">
        {choices.map((choice) => (
          <label
            key={choice.value}
            className={`cursor-pointer rounded-4 border px-2 py-1 text-13 has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-slate ${choice.value === value ? 'border-saddle bg-raised font-semibold text-saddle' : 'border-line bg-surface hover:bg-raised'}`}
          >
            <input
              type="radio"
              name={name}
              checked={choice.value === value}
              onChange={() => onChange(choice.value)}
              className="sr-only"
            />
            {choice.label}
          </label>
        ))}
      </div>
      {idle && <p className="text-12 text-quiet">{idle}</p>}
    </fieldset>
  )
}
