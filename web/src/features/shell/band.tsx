import { ROLES } from '@satchel/core/members/roles'
import { useQuery } from '@tanstack/react-query'
import { Menu as MenuIcon, Moon, Search, Sun } from 'lucide-react'
import { Popover } from 'radix-ui'
import { type ComponentProps, Suspense, useState } from 'react'
import { Link, NavLink, useLocation, useNavigate } from 'react-router'
import { fetched } from '../../components/fetched.tsx'
import { Menu } from '../../components/menu.tsx'
import { sessionQuery } from '../../data/session.ts'
import { tallyQuery } from '../../data/tally.ts'
import { useMeetingPlace } from '../../meeting/meeting-place.ts'
import type { AccountMenu as WholeAccountMenu } from '../account/account-menu.tsx'
import { JobRing } from '../jobs/job-ring.tsx'
import { STAGES } from './stages.ts'
import { useTheme } from './theme.ts'

const WhoIsHere = fetched(() => import('../../meeting/who-is-here.tsx'))
/** Fetched when it is opened, with all that it opens. */
const AccountMenu = fetched<ComponentProps<typeof WholeAccountMenu>>(async () => ({
  default: (await import('../account/account-menu.tsx')).AccountMenu,
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
      <div className="ml-auto flex min-w-0 items-center gap-1">
        <HereToo />
        <button
          type="button"
          onClick={onFind}
          className="hidden items-center gap-2 rounded-4 border border-line bg-ground px-2.5 py-1 text-13 text-quiet hover:border-saddle sm:inline-flex"
        >
          <Search size={18} aria-hidden /> find <kbd className="measure">/</kbd>
        </button>
        <OnlyLooks />
        <JobRing />
        <ThemeButton />
        <AccountButton />
        <StageMenu tallies={tallies} />
      </div>
    </header>
  )
}

/** Who else has open what this window is about: at the end where nothing is moved by it. */
function HereToo() {
  const at = useMeetingPlace((state) => state.at)
  if (!at) return null
  return (
    <div className="mr-3 min-w-0 max-w-80">
      <Suspense>
        <WhoIsHere key={`${at.kind} ${at.id}`} {...at} />
      </Suspense>
    </div>
  )
}

/** Who may change nothing is told so before they try. */
function OnlyLooks() {
  const { data } = useQuery(sessionQuery)
  if (!data?.signedIn || ROLES[data.role].mayWrite) return null
  return (
    <span
      className="mr-1 rounded-4 border border-line px-2 py-0.5 text-13 text-quiet"
      title="You look at everything here and change nothing; ask the owner to make you a curator."
    >
      you only look
    </span>
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

/** Who is signed in; what one may do about it is fetched once it is opened, and stays for the dialogs that it opens. */
function AccountButton() {
  const { data } = useQuery(sessionQuery)
  const [isOpen, setOpen] = useState(false)
  const [wasOpened, setOpened] = useState(false)
  if (!data?.signedIn) return null
  const initials = data.name
    .split(/\s+/)
    .map((word) => word[0])
    .slice(0, 2)
    .join('')
    .toUpperCase()
  return (
    <Popover.Root
      open={isOpen}
      onOpenChange={(open) => {
        setOpen(open)
        setOpened(true)
      }}
    >
      <Popover.Trigger
        aria-label={`Account of ${data.name}`}
        className="grid h-8 w-8 place-content-center rounded-full border border-line bg-ground text-12 font-semibold hover:border-saddle"
      >
        {initials}
      </Popover.Trigger>
      {wasOpened && (
        <Suspense>
          <AccountMenu session={data} />
        </Suspense>
      )}
    </Popover.Root>
  )
}
