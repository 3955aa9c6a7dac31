import { useState } from 'react'
import { useNavigate } from 'react-router'
import { Dialog } from '../../components/dialog.tsx'
import { STAGES } from './stages.ts'
import { useTheme } from './theme.ts'

type Command = { name: string; keys: string; run: () => void }

/** Everything that can be done from anywhere, found by typing. */
export function CommandList({
  open,
  onOpenChange,
  onKeys,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  onKeys: () => void
}) {
  const navigate = useNavigate()
  const [theme, toggleTheme] = useTheme()
  const [typed, setTyped] = useState('')
  const [at, setAt] = useState(0)
  const commands: Command[] = [
    ...STAGES.map(({ path, name }, i) => ({
      name: `Go to ${name}`,
      keys: String(i + 1),
      run: () => void navigate(path),
    })),
    {
      name: `Find brushes named "${typed.trim()}"`,
      keys: '/',
      run: () => void navigate(`/sort?q=${encodeURIComponent(typed.trim())}`),
    },
    { name: `Use the ${theme === 'dark' ? 'light' : 'dark'} theme`, keys: '', run: toggleTheme },
    { name: 'Look into the bin', keys: '', run: () => void navigate('/sort?bin=1') },
    { name: 'Show all keys', keys: '?', run: onKeys },
  ]
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  const shown = commands.filter(({ name }) =>
    name.startsWith('Find brushes') ? typed.trim() !== '' : words.every((word) => name.toLowerCase().includes(word)),
  )
  const run = (command: Command | undefined) => {
    if (!command) return
    onOpenChange(false)
    setTyped('')
    command.run()
  }
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="What next?">
      <input
        aria-label="Type a command or a brush"
        role="combobox"
        aria-expanded="true"
        aria-controls="command-list"
        aria-activedescendant={shown[at] ? `command-${at}` : undefined}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value)
          setAt(0)
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setAt(Math.min(shown.length - 1, at + 1))
          else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1))
          else if (event.key === 'Enter') run(shown[at])
          else return
          event.preventDefault()
        }}
        className="rounded-4 border border-line bg-raised px-3 py-2"
      />
      <div id="command-list" role="listbox" aria-label="Commands" className="grid gap-0.5">
        {shown.map((command, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the combobox above takes the keys
          <div
            key={command.name}
            id={`command-${i}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === at}
            onClick={() => run(command)}
            className={`flex justify-between rounded-4 px-3 py-1.5 ${i === at ? 'bg-ground' : ''}`}
          >
            {command.name} <kbd className="measure text-quiet">{command.keys}</kbd>
          </div>
        ))}
      </div>
    </Dialog>
  )
}
