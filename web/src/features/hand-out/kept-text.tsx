import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { TextArea, TextField } from '../../components/field.tsx'

type KeptProps = {
  label: string
  value: string
  area?: boolean
  required?: boolean
  maxLength?: number
  /** Told what was typed, and what it was typed over. */
  onKeep: (value: string, was: string) => void
}

/** A text that is saved when one leaves it. Where somebody else has changed it meanwhile, neither is lost unseen. */
export function Kept({ label, value, area = false, required = false, maxLength = 120, onKeep }: KeptProps) {
  const [typed, setTyped] = useState(value)
  /** What stood there when typing began. */
  const [base, setBase] = useState(value)
  const isTyped = typed.trim() !== base
  if (value !== base && (!isTyped || typed.trim() === value)) {
    setBase(value)
    setTyped(value)
  }
  const isElsewhere = value !== base && isTyped
  const error = required && typed.trim() === '' ? 'It needs one.' : undefined
  const keep = () => {
    if (!error && isTyped && !isElsewhere) onKeep(typed.trim(), base)
  }
  const shared = { label, value: typed, error, onBlur: keep }
  return (
    <div className="grid gap-1">
      {area ? (
        <TextArea {...shared} onChange={(event) => setTyped(event.target.value)} />
      ) : (
        <TextField {...shared} maxLength={maxLength} onChange={(event) => setTyped(event.target.value)} />
      )}
      {isElsewhere && (
        <div role="alert" className="flex flex-wrap items-center gap-2 text-13 text-amber">
          <span className="min-w-0 break-words">
            It was changed elsewhere meanwhile: {value === '' ? 'it is empty now' : `“${value.slice(0, 120)}”`}
          </span>
          <Button
            onClick={() => {
              setBase(value)
              onKeep(typed.trim(), value)
            }}
          >
            Keep what I typed
          </Button>
          <Button
            kind="quiet"
            onClick={() => {
              setBase(value)
              setTyped(value)
            }}
          >
            Take that
          </Button>
        </div>
      )}
    </div>
  )
}
