type Props = { name: string; onRename: (name: string) => void; onLeave: () => void; className?: string }

/** The name of what lies on the rack, typed over where it stands: Enter keeps it, Escape leaves it. */
export function RenameField({ name, onRename, onLeave, className = '' }: Props) {
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: the person has just asked to type here
      autoFocus
      aria-label={`New name of ${name}`}
      defaultValue={name}
      onFocus={(event) => event.target.select()}
      onBlur={(event) => onRename(event.target.value.trim())}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur()
        if (event.key === 'Escape') onLeave()
      }}
      className={`min-w-0 flex-1 rounded-4 border border-line bg-raised px-1 ${className}`}
    />
  )
}
