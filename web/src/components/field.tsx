import { type ComponentProps, type ReactNode, useId } from 'react'

const BOX = 'w-full rounded-4 border border-line bg-raised px-2.5 py-1.5 text-15 text-ink placeholder:text-quiet'

type Around = { label: string; hint?: ReactNode; error?: string | undefined }

function Labelled({ label, hint, error, id, children }: Around & { id: string; children: ReactNode }) {
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-13 font-medium text-quiet">
        {label}
      </label>
      {children}
      {hint && !error && <p className="text-13 text-quiet">{hint}</p>}
      {error && (
        <p role="alert" className="text-13 text-madder">
          {error}
        </p>
      )}
    </div>
  )
}

export function TextField({ label, hint, error, ...rest }: Around & ComponentProps<'input'>) {
  const id = useId()
  return (
    <Labelled {...{ label, hint, error, id }}>
      <input id={id} aria-invalid={error ? true : undefined} className={BOX} {...rest} />
    </Labelled>
  )
}

export function TextArea({ label, hint, error, ...rest }: Around & ComponentProps<'textarea'>) {
  const id = useId()
  return (
    <Labelled {...{ label, hint, error, id }}>
      <textarea id={id} className={`${BOX} min-h-24`} {...rest} />
    </Labelled>
  )
}

/** A choice; its title is what a short label stands for. */
export type Choice = { value: string; label: string; title?: string }

export function SelectField({
  label,
  hint,
  error,
  choices,
  ...rest
}: Around & { choices: readonly Choice[] } & ComponentProps<'select'>) {
  const id = useId()
  return (
    <Labelled {...{ label, hint, error, id }}>
      <select id={id} className={BOX} {...rest}>
        {choices.map(({ value, label: text, title }) => (
          <option key={value} value={value} title={title}>
            {text}
          </option>
        ))}
      </select>
    </Labelled>
  )
}
