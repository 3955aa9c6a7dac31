import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Command, defaultFilter } from 'cmdk'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { useLocation, useMatch, useNavigate } from 'react-router'
import { Dialog } from '../../components/dialog.tsx'
import { formatCount } from '../../components/format.ts'
import { toastError } from '../../components/toasts.tsx'
import { findBrushesQuery } from '../../data/brush.ts'
import { goToWorkspace } from '../../data/members.ts'
import { packsQuery } from '../../data/packs.ts'
import type { Wanted } from '../../data/parcels.ts'
import { sessionQuery } from '../../data/session.ts'
import { outerNames, setsQuery } from '../../data/sets.ts'
import { useWrapping } from '../../parcels/wrapping.ts'
import { STAGES } from './stages.ts'
import { useTheme } from './theme.ts'

const BRUSHES_SHOWN = 7

/** The line that looks for what is typed among all brushes. */
const FIND = 'find'

type Props = { open: boolean; onOpenChange: (open: boolean) => void; onKeys: () => void }

/** Everything that can be gone to or done from anywhere, found by typing: brushes, sets, packs, settings and acts. */
export function CommandList({ open, onOpenChange, onKeys }: Props) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="What next?">
      {open && <Choices onDone={() => onOpenChange(false)} onKeys={onKeys} />}
    </Dialog>
  )
}

type Line = {
  value: string
  name: string
  note?: string
  onSelect: () => void
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
  const session = useQuery(sessionQuery).data
  const others = session?.signedIn ? session.workspaces.filter(({ id }) => id !== session.workspaceId) : []
  const toSave = useWhatToSave()
  const wrap = useWrapping((state) => state.wrap)
  const run = (act: () => void) => () => {
    onDone()
    act()
  }
  const go = (path: string) => run(() => void navigate(path))
  const groups: { heading: string; lines: Line[] }[] = [
    {
      heading: 'Go to',
      lines: [
        ...STAGES.map(({ path, name }, i) => ({
          value: `go to ${name}`,
          name,
          note: String(i + 1),
          onSelect: go(path),
        })),
        { value: 'go to grains and strips', name: 'Grains and strips', onSelect: go('/sort/grains') },
        { value: 'go to same marks', name: 'Same marks', onSelect: go('/sort/same') },
        { value: 'looks like a picture or drawing', name: 'Looks like …', onSelect: go('/sort/looks-like') },
        { value: 'go to shops that sell', name: 'Shops', onSelect: go('/hand-out/shops') },
        { value: 'go to members invitations what was done audit', name: 'Members', onSelect: go('/members') },
        { value: 'look into the bin', name: 'The bin', onSelect: go('/sort?bin=1') },
        { value: 'brushes in no set', name: 'Brushes in no set', onSelect: go('/sort?loose=1') },
      ],
    },
    {
      heading: 'Sets',
      lines: [
        ...outerNames(sets.data?.sets ?? []).map((name) => ({
          value: `sets of ${name}`,
          name: `All sets of ${name}`,
          onSelect: go(`/sort?${new URLSearchParams({ inFolder: name })}`),
        })),
        ...(sets.data?.sets ?? []).map(({ id, name, count }) => ({
          value: `set ${name} ${id}`,
          name,
          note: formatCount(count),
          onSelect: go(`/sort?setId=${id}&sort=set`),
        })),
      ],
    },
    {
      heading: 'Packs',
      lines: (packs.data?.packs ?? []).map(({ id, title }) => ({
        value: `pack ${title} ${id}`,
        name: title,
        onSelect: go(`/hand-out/${id}`),
      })),
    },
    {
      heading: 'Other workspaces',
      lines: others.map(({ id, name }) => ({
        value: `workspace ${name} ${id}`,
        name,
        onSelect: run(() => void goToWorkspace(id).catch(toastError)),
      })),
    },
    {
      heading: 'Save as a file',
      lines: toSave.map(({ name, wanted }) => ({ value: name, name, onSelect: run(() => wrap(wanted)) })),
    },
    {
      heading: 'Settings and help',
      lines: [
        {
          value: 'theme light dark',
          name: `Use the ${theme === 'dark' ? 'light' : 'dark'} theme`,
          onSelect: run(toggleTheme),
        },
        { value: 'show all keys', name: 'Show all keys', note: '?', onSelect: run(onKeys) },
      ],
    },
  ].map(({ heading, lines }) => ({ heading, lines: bestFirst(lines, q) }))
  const found = q === '' ? [] : (brushes.data?.brushes ?? [])
  const likest = bestFirst(
    groups.flatMap(({ lines }) => lines),
    q,
  )[0]?.value
  // The best line is the choice until keys or the pointer take another. At each letter the list takes its first line
  // by itself, which nobody has chosen: it is followed, since the list would stay there, and let go again.
  const byHand = useRef(false)
  const [taken, setTaken] = useState<string>()
  useEffect(() => {
    if (taken !== undefined && !byHand.current) setTaken(undefined)
  }, [taken])
  const type = (value: string) => {
    byHand.current = false
    setTaken(undefined)
    setTyped(value)
  }
  const touched = () => {
    byHand.current = true
  }
  return (
    <Command
      label="Type a command or a brush"
      loop
      // Lines keep their places while brushes are still being found: what is about to be pressed moves for nothing.
      shouldFilter={false}
      value={taken ?? found[0]?.id ?? likest ?? FIND}
      onValueChange={setTaken}
      onKeyDownCapture={touched}
      onPointerMoveCapture={touched}
      className="grid min-h-0 gap-2"
    >
      <Command.Input
        autoFocus
        value={typed}
        onValueChange={type}
        placeholder="A brush, a set, a pack, or what to do"
        className="rounded-4 border border-line bg-raised px-3 py-2"
      />
      <Command.List className="max-h-[50dvh] overflow-y-auto">
        {q !== '' && (
          <Group heading="Brushes">
            <Choice value={FIND} onSelect={go(`/sort?q=${encodeURIComponent(q)}`)} note="/">
              All brushes with "{q}"
            </Choice>
            {found.map(({ id, name, maker }) => (
              <Choice key={id} value={id} onSelect={go(`/tune/${id}`)} note={maker}>
                {name}
              </Choice>
            ))}
          </Group>
        )}
        {groups.map(
          ({ heading, lines }) =>
            lines.length > 0 && (
              <Group key={heading} heading={heading}>
                {lines.map(({ name, ...line }) => (
                  <Choice key={line.value} {...line}>
                    {name}
                  </Choice>
                ))}
              </Group>
            ),
        )}
      </Command.List>
    </Command>
  )
}

/** What of the page that is open can be had as a file. */
function useWhatToSave(): { name: string; wanted: Wanted }[] {
  const brushId = useMatch('/tune/:brushId')?.params.brushId
  const packId = useMatch('/hand-out/:packId')?.params.packId
  const setId = new URLSearchParams(useLocation().search).get('setId')
  return [
    ...(brushId ? [{ name: 'Save this brush', wanted: { kind: 'brush', brushId } as const }] : []),
    ...(setId ? [{ name: 'Save this set', wanted: { kind: 'set', setId } as const }] : []),
    ...(setId ? [{ name: 'Print this set', wanted: { kind: 'setSheet', setId, paper: 'a4' } as const }] : []),
    ...(packId
      ? [{ name: 'Print a sheet of this pack', wanted: { kind: 'packSheet', packId, paper: 'a4' } as const }]
      : []),
  ]
}

/** The lines that have what is typed, the likest first; all of them, as they stand, while nothing is typed. */
function bestFirst(lines: Line[], q: string): Line[] {
  if (q === '') return lines
  return lines
    .map((line) => ({ line, likeness: defaultFilter(`${line.value} ${line.name}`, q) }))
    .filter(({ likeness }) => likeness > 0)
    .sort((a, b) => b.likeness - a.likeness)
    .map(({ line }) => line)
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
  onSelect: () => void
  note?: string
  children: ReactNode
}

function Choice({ value, onSelect, note, children }: ChoiceProps) {
  return (
    <Command.Item
      value={value}
      onSelect={onSelect}
      className="flex cursor-default justify-between gap-3 rounded-4 px-3 py-1.5 data-[selected=true]:bg-ground"
    >
      <span className="truncate">{children}</span>
      {note && <span className="shrink-0 text-13 text-quiet">{note}</span>}
    </Command.Item>
  )
}
