import type { SetMark } from '@satchel/core/forms/set-marks'
import { useEffect, useId, useState } from 'react'
import { SetMarkIcon } from './set-mark.tsx'

/** What can be picked; the key tells it from any other. */
export type SetOption<Target> = { key: string; label: string; mark: SetMark | ''; target: Target }
type Props<Target> = {
  label: string
  /** What is said where nothing fits. */
  none?: string
  /** What fits what was typed, which is without spaces at its ends. */
  optionsOf: (typed: string) => readonly SetOption<Target>[]
  /** Told of what Enter would choose, whenever that is something else. */
  onAt: (option: SetOption<Target> | undefined) => void
  onChoose: (target: Target) => void
}

/** A set, found by typing a part of its name. */
export function SetPicker<Target>({
  label,
  none = 'No other set is called that.',
  optionsOf,
  onAt,
  onChoose,
}: Props<Target>) {
  const [typed, setTyped] = useState('')
  const [at, setAt] = useState(0)
  const list = useId()
  const options = optionsOf(typed.trim())
  const current = options[at]
  // biome-ignore lint/correctness/useExhaustiveDependencies: told by which option it is, not by each list that holds it
  useEffect(() => onAt(current), [current?.key, current?.label])
  return (
    <>
      <input
        aria-label={label}
        placeholder={label}
        role="combobox"
        aria-expanded="true"
        aria-controls={list}
        aria-activedescendant={current ? `${list} ${at}` : undefined}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value)
          setAt(0)
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(options.length - 1, at + 1))
          else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1))
          else if (event.key === 'Enter' && current) onChoose(current.target)
          else return
          event.preventDefault()
        }}
        className="rounded-4 border border-line bg-raised px-3 py-2"
      />
      <div id={list} role="listbox" aria-label="Sets" className="grid max-h-[40vh] gap-0.5 overflow-y-auto">
        {options.map((option, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the combobox above takes the keys
          <div
            key={option.key}
            id={`${list} ${i}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === at}
            onClick={() => onChoose(option.target)}
            className={`flex min-h-9 items-center gap-2 rounded-4 px-3 py-1.5 font-title ${i === at ? 'bg-ground' : 'hover:bg-ground'}`}
          >
            <SetMarkIcon mark={option.mark} /> {option.label}
          </div>
        ))}
      </div>
      {options.length === 0 && <p className="text-quiet">{none}</p>}
    </>
  )
}
