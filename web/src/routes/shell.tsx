import { useQuery } from '@tanstack/react-query'
import { Suspense, useEffect, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { Navigate, Outlet, useLocation, useMatch, useNavigate } from 'react-router'
import { fetched } from '../components/fetched.tsx'
import { LoadError, Loading } from '../components/states.tsx'
import { useTypedKey } from '../components/use-typed-key.ts'
import { useServerEvents } from '../data/events.ts'
import { sessionQuery } from '../data/session.ts'
import { PocketStrip } from '../features/pocket/pocket-strip.tsx'
import { Band } from '../features/shell/band.tsx'
import { BrushDrag } from '../features/shell/brush-drag.tsx'
import { CommandList } from '../features/shell/command-list.tsx'
import { KeyHelp } from '../features/shell/key-help.tsx'
import { STAGES } from '../features/shell/stages.ts'
import { useWrapping } from '../parcels/wrapping.ts'
import { canPickFolder } from '../real-folder/pick-folder.ts'

/** Its code is fetched once something is asked for. */
const Parcels = fetched(() => import('../parcels/parcel-dialog.tsx'))

function ParcelDialog() {
  const isAsked = useWrapping(({ wanted }) => wanted !== undefined)
  return isAsked ? <Parcels /> : null
}

/** The shell around every stage; only for those who are signed in. */
export function ShellRoute() {
  const session = useQuery(sessionQuery)
  const { pathname, search } = useLocation()
  if (session.isPending) return <Loading what="your workspace" />
  // what is shown stays where the server is only away for a moment
  if (session.isError && !session.data)
    return <LoadError error={session.error} onRetry={() => void session.refetch()} />
  if (!session.data.signedIn) {
    return (
      <Navigate
        replace
        to={session.data.empty ? '/first-owner' : `/sign-in?then=${encodeURIComponent(pathname + search)}`}
      />
    )
  }
  return <Shell />
}

/** Looks at folders of this computer that this browser follows; what does that is fetched when the page has been shown. */
function useFollowing() {
  const session = useQuery(sessionQuery).data
  const workspaceId = session?.signedIn && session.role !== 'viewer' ? session.workspaceId : undefined
  useEffect(() => {
    if (workspaceId === undefined || !canPickFolder()) return
    const ending = new AbortController()
    void import('../real-folder/follow-here.ts').then(
      ({ followHere }) => followHere(workspaceId, ending.signal),
      () => undefined,
    )
    return () => ending.abort()
  }, [workspaceId])
}

function Shell() {
  useServerEvents()
  useFollowing()
  const navigate = useNavigate()
  const tuned = useMatch('/tune/:brushId')?.params.brushId
  const [open, setOpen] = useState<'none' | 'commands' | 'keys'>('none')
  const find = () => {
    const box = document.getElementById('find-brushes')
    if (box) box.focus()
    else void navigate('/sort?find=1')
  }
  useHotkeys(
    STAGES.map((_, i) => String(i + 1)),
    (_event, { keys }) => {
      const stage = STAGES[Number(keys?.[0]) - 1]
      if (stage) void navigate(stage.path)
    },
  )
  useTypedKey('/', find)
  useHotkeys('mod+k', () => setOpen('commands'), { preventDefault: true, enableOnFormTags: true })
  useTypedKey('?', () => setOpen('keys'))
  return (
    <div className="flex min-h-dvh flex-col">
      <a href="#stage" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-raised focus:p-2">
        Skip to the stage
      </a>
      <Band onFind={find} />
      <BrushDrag>
        <main id="stage" tabIndex={-1} className="flex min-h-0 flex-1 flex-col outline-none">
          <Outlet />
        </main>
        <PocketStrip tunedId={tuned} />
      </BrushDrag>
      <CommandList
        open={open === 'commands'}
        onOpenChange={(now) => setOpen(now ? 'commands' : 'none')}
        onKeys={() => setOpen('keys')}
      />
      <Suspense>
        <ParcelDialog />
      </Suspense>
      <KeyHelp open={open === 'keys'} onOpenChange={(now) => setOpen(now ? 'keys' : 'none')} />
    </div>
  )
}
