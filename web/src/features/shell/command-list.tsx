import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Command } from 'cmdk'
import { type ReactNode, useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { Dialog } from '../../components/dialog.tsx'
import { formatCount } from '../../components/format.ts'
import { findBrushesQuery } from '../../data/brush.ts'
import { packsQuery } from '../../data/packs.ts'
import { setsQuery } from '../../data/sets.ts'
import { STAGES } from './stages.ts'
import { useTheme } from './theme.ts'

const BRUSHES_SHOWN = 7

type Props = { open: boolean; onOpenChange: (open: boolean) => void; onKeys: () => void }

/** Everything that can be gone to or done from anywhere, found by typing: brushes, sets, packs, settings and acts. */
export function CommandList({ open, onOpenChange, onKeys }: Props) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="What next?">
      {open && <Choices onDone={() => onOpenChange(false)} onKeys={onKeys} />}
    </Dialog>
  )
}

function Choices({ onDone, onKeys }: { onDone: () => void; onKeys: () => void }) {
  const navigate = useNavigate()
  const [theme, toggleTheme] = useTheme()
  const [typed, setTyped] = useState('')
  const q = typed.trim()
  const sets = useQuery(setsQuery)
  const packs = useQuery(packsQuery)
  const brushes = useQuery({
    ...findBrushesQuery(q, BRUSHES_SHOWN),
    enabled: q !== '',
    placeholderData: keepPreviousData,
  })
  // What is found arrives after what is typed: the first brush becomes the choice, unless arrows have moved it since.
  const [chosen, setChosen] = useState('')
  const firstFound = brushes.isPlaceholderData ? undefined : brushes.data?.brushes[0]?.id
  useEffect(() => {
    if (firstFound) setChosen(`${firstFound} ${q}`)
  }, [firstFound, q])
  const run = (act: () => void) => () => {
    onDone()
    act()
  }
  const go = (path: string) => run(() => void navigate(path))
  return (
    <Command
      label="Type a command or a brush"
      loop
      value={chosen}
      onValueChange={setChosen}
      className="grid min-h-0 gap-2"
    >
      <Command.Input
        autoFocus
        value={typed}
        onValueChange={setTyped}
        placeholder="A brush, a set, a pack, or what to do"
        className="rounded-4 border border-line bg-raised px-3 py-2"
      />
      <Command.List className="max-h-[50dvh] overflow-y-auto">
        <Command.Empty className="px-3 py-2 text-quiet">Nothing is called that.</Command.Empty>
        {q !== '' && (
          <Group heading="Brushes">
            {brushes.data?.brushes.map(({ id, name, maker }) => (
              // the server has chosen: the list's own ranking would drop what was found by maker or tag
              <Choice key={id} value={`${id} ${q}`} keywords={[q]} onSelect={go(`/tune/${id}`)} note={maker}>
                {name}
              </Choice>
            ))}
            <Choice value={`find ${q}`} keywords={[q]} onSelect={go(`/sort?q=${encodeURIComponent(q)}`)} note="/">
              All brushes with "{q}"
            </Choice>
          </Group>
        )}
        <Group heading="Go to">
          {STAGES.map(({ path, name }, i) => (
            <Choice key={path} value={`go to ${name}`} onSelect={go(path)} note={String(i + 1)}>
              {name}
            </Choice>
          ))}
          <Choice value="go to grains and strips" onSelect={go('/sort/grains')}>
            Grains and strips
          </Choice>
          <Choice value="look into the bin" onSelect={go('/sort?bin=1')}>
            The bin
          </Choice>
          <Choice value="brushes in no set" onSelect={go('/sort?loose=1')}>
            Brushes in no set
          </Choice>
        </Group>
        <Group heading="Sets">
          {sets.data?.sets.map(({ id, name, count }) => (
            <Choice
              key={id}
              value={`set ${name} ${id}`}
              onSelect={go(`/sort?setId=${id}&sort=set`)}
              note={formatCount(count)}
            >
              {name}
            </Choice>
          ))}
        </Group>
        <Group heading="Packs">
          {packs.data?.packs.map(({ id, title }) => (
            <Choice key={id} value={`pack ${title} ${id}`} onSelect={go(`/hand-out/${id}`)}>
              {title}
            </Choice>
          ))}
        </Group>
        <Group heading="Settings and help">
          <Choice value="theme light dark" onSelect={run(toggleTheme)}>
            Use the {theme === 'dark' ? 'light' : 'dark'} theme
          </Choice>
          <Choice value="show all keys" onSelect={run(onKeys)} note="?">
            Show all keys
          </Choice>
        </Group>
      </Command.List>
    </Command>
  )
}

function Group({ heading, children }: { heading: string; children: ReactNode }) {
  return (
    <Command.Group
      heading={heading}
      className="[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-12 [&_[cmdk-group-heading]]:text-quiet"
    >
      {children}
    </Command.Group>
  )
}

type ChoiceProps = {
  value: string
  keywords?: string[]
  onSelect: () => void
  note?: string
  children: ReactNode
}

function Choice({ value, keywords, onSelect, note, children }: ChoiceProps) {
  return (
    <Command.Item
      value={value}
      onSelect={onSelect}
      {...(keywords ? { keywords } : {})}
      className="flex cursor-default justify-between gap-3 rounded-4 px-3 py-1.5 data-[selected=true]:bg-ground"
    >
      <span className="truncate">{children}</span>
      {note && <span className="shrink-0 text-13 text-quiet">{note}</span>}
    </Command.Item>
  )
}
