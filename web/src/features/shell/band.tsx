import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Archive, KeyRound, Library, LogOut, Menu as MenuIcon, Moon, Search, Signature, Stamp, Sun } from 'lucide-react'
import { Popover } from 'radix-ui'
import { type ComponentProps, Suspense, useState } from 'react'
import { Link, NavLink, useLocation, useNavigate } from 'react-router'
import { send } from '../../api/client.ts'
import { fetched } from '../../components/fetched.tsx'
import { Menu } from '../../components/menu.tsx'
import { toastError } from '../../components/toasts.tsx'
import { sessionQuery } from '../../data/session.ts'
import { tallyQuery } from '../../data/tally.ts'
import type { FactsDialog as LibraryFactsDialog } from '../account/facts-dialog.tsx'
import type { LibraryDialog as WholeLibraryDialog } from '../account/library-dialog.tsx'
import { PasswordDialog } from '../account/password-dialog.tsx'
import { RoomDialog } from '../account/room-dialog.tsx'
import type { SigningDialog as SigningKeyDialog } from '../account/signing-dialog.tsx'
import { JobRing } from '../jobs/job-ring.tsx'
import { STAGES } from './stages.ts'
import { useTheme } from './theme.ts'

/** Hardly ever opened: fetched when it is. */
const SigningDialog = fetched<ComponentProps<typeof SigningKeyDialog>>(async () => ({
  default: (await import('../account/signing-dialog.tsx')).SigningDialog,
}))

const LibraryDialog = fetched<ComponentProps<typeof WholeLibraryDialog>>(async () => ({
  default: (await import('../account/library-dialog.tsx')).LibraryDialog,
}))

const FactsDialog = fetched<ComponentProps<typeof LibraryFactsDialog>>(async () => ({
  default: (await import('../account/facts-dialog.tsx')).FactsDialog,
}))

type Tallies = Record<string, string>

function useTallies(): Tallies {
  const { data } = useQuery(tallyQuery)
  if (!data) return {}
  return {
    '/gather': data.waiting > 0 ? `${data.waiting} waiting` : '',
    '/fit': data.loose > 0 ? `${data.loose.toLocaleString('en')} loose` : '',
    '/sort': data.brushes.toLocaleString('en'),
    '/hand-out': data.out > 0 ? `${data.out} out` : '',
  }
}

/** The band at the top: the working order with its live numbers, search, jobs, theme and account. */
export function Band({ onFind }: { onFind: () => void }) {
  const tallies = useTallies()
  return (
    <header className="sticky top-0 z-30 flex h-[52px] items-center gap-4 border-b border-line bg-surface px-4">
      <Link to="/sort" className="flex items-center gap-2 font-title text-18 font-semibold">
        <img src="/mark.svg" alt="" width={28} height={28} />
        <span>gentle satchel</span>
      </Link>
      <nav aria-label="Stages" className="hidden h-full wide:flex">
        {STAGES.map((stage) => (
          <Stage key={stage.path} {...stage} tally={tallies[stage.path] ?? ''} />
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-1">
        <button
          type="button"
          onClick={onFind}
          className="hidden items-center gap-2 rounded-4 border border-line bg-ground px-2.5 py-1 text-13 text-quiet hover:border-saddle sm:inline-flex"
        >
          <Search size={18} aria-hidden /> find <kbd className="measure">/</kbd>
        </button>
        <JobRing />
        <ThemeButton />
        <AccountButton />
        <StageMenu tallies={tallies} />
      </div>
    </header>
  )
}

function Stage({ path, name, also, tally }: { path: string; name: string; also?: string; tally: string }) {
  const isBeside = useLocation().pathname === also
  return (
    <NavLink
      to={path}
      className={({ isActive }) =>
        `grid min-w-20 place-content-center border-b-2 px-3 text-center leading-tight hover:bg-ground ${isActive || isBeside ? 'border-saddle font-semibold text-saddle' : 'border-transparent'}`
      }
    >
      <span>{name}</span>
      <span className="h-4 text-12 font-normal text-quiet">{tally}</span>
    </NavLink>
  )
}

/** On narrow screens the band folds into a menu. */
function StageMenu({ tallies }: { tallies: Tallies }) {
  const navigate = useNavigate()
  return (
    <div className="wide:hidden">
      <Menu
        label="Stages"
        trigger={
          <button type="button" className="inline-flex items-center gap-1.5 rounded-4 px-2 py-1.5 hover:bg-ground">
            <MenuIcon size={18} aria-hidden /> Stages
          </button>
        }
        items={STAGES.map(({ path, name }) => ({
          label: tallies[path] ? `${name} (${tallies[path]})` : name,
          onSelect: () => navigate(path),
        }))}
      />
    </div>
  )
}

function ThemeButton() {
  const [theme, toggle] = useTheme()
  const next = theme === 'dark' ? 'light' : 'dark'
  return (
    <button
      type="button"
      onClick={toggle}
      aria-label={`Use the ${next} theme`}
      title={`Use the ${next} theme`}
      className="rounded-4 p-1.5 hover:bg-ground"
    >
      {theme === 'dark' ? <Sun size={18} aria-hidden /> : <Moon size={18} aria-hidden />}
    </button>
  )
}

const ACCOUNT_LINE = 'inline-flex items-center gap-2 rounded-4 border border-line px-2.5 py-1.5 hover:border-saddle'
const ACCOUNT_DIALOGS = [
  { name: 'room', called: 'Room of this workspace', Icon: Archive },
  { name: 'library', called: 'The whole library', Icon: Library },
  { name: 'facts', called: 'Maker and licence', Icon: Stamp },
  { name: 'key', called: 'Signing key', Icon: Signature },
  { name: 'password', called: 'Change password', Icon: KeyRound },
] as const
type AccountDialog = (typeof ACCOUNT_DIALOGS)[number]['name']

function AccountButton() {
  const { data } = useQuery(sessionQuery)
  const client = useQueryClient()
  const navigate = useNavigate()
  const [opened, setOpened] = useState<AccountDialog>()
  const close = () => setOpened(undefined)
  if (!data?.signedIn) return null
  const initials = data.name
    .split(/\s+/)
    .map((word) => word[0])
    .slice(0, 2)
    .join('')
    .toUpperCase()
  const signOut = async () => {
    try {
      await send('/api/auth/sign-out', { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' })
      client.clear()
      await navigate('/sign-in')
    } catch (error) {
      toastError(error)
    }
  }
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`Account of ${data.name}`}
        className="grid h-8 w-8 place-content-center rounded-full border border-line bg-ground text-12 font-semibold hover:border-saddle"
      >
        {initials}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-50 grid gap-2 rounded-10 border border-line bg-raised p-4 shadow-lift"
        >
          <p className="font-semibold">{data.name}</p>
          <p className="text-13 text-quiet">
            {data.email}
            <br />
            {data.workspace}, {data.role}
          </p>
          {ACCOUNT_DIALOGS.map(({ name, called, Icon }) => (
            <Popover.Close key={name} onClick={() => setOpened(name)} className={ACCOUNT_LINE}>
              <Icon size={18} aria-hidden /> {called}
            </Popover.Close>
          ))}
          <button type="button" onClick={signOut} className={ACCOUNT_LINE}>
            <LogOut size={18} aria-hidden /> Sign out
          </button>
        </Popover.Content>
      </Popover.Portal>
      {opened === 'room' && <RoomDialog workspace={data.workspace} onClose={close} />}
      <Suspense>
        {opened === 'facts' && <FactsDialog workspace={data.workspace} onClose={close} />}
        {opened === 'key' && (
          <SigningDialog workspace={data.workspace} isOwner={data.role === 'owner'} onClose={close} />
        )}
        {opened === 'library' && (
          <LibraryDialog workspace={data.workspace} isOwner={data.role === 'owner'} onClose={close} />
        )}
      </Suspense>
      {opened === 'password' && <PasswordDialog email={data.email} onClose={close} />}
    </Popover.Root>
  )
}
