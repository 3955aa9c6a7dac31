import { ROLES } from '@satchel/core/members/roles'
import { useQueryClient } from '@tanstack/react-query'
import {
  Archive,
  Check,
  KeyRound,
  Library,
  LogOut,
  type LucideIcon,
  MonitorSmartphone,
  Plus,
  ShieldCheck,
  Signature,
  Stamp,
  Users,
} from 'lucide-react'
import { Popover } from 'radix-ui'
import { type ComponentType, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { toastError } from '../../components/toasts.tsx'
import { signOut } from '../../data/account.ts'
import { goToWorkspace } from '../../data/members.ts'
import type { Session } from '../../data/session.ts'
import { FactsDialog } from './facts-dialog.tsx'
import { LibraryDialog } from './library-dialog.tsx'
import { NewWorkspaceDialog } from './new-workspace-dialog.tsx'
import { PasswordDialog } from './password-dialog.tsx'
import { RoomDialog } from './room-dialog.tsx'
import { SecondFactorDialog } from './second-factor-dialog.tsx'
import { SignInsDialog } from './sign-ins-dialog.tsx'
import { SigningDialog } from './signing-dialog.tsx'

type DialogProps = { session: Session; onClose: () => void }
type Entry = { called: string; Icon: LucideIcon; of: 'workspace' | 'person'; Dialog: ComponentType<DialogProps> }

/** What the menu opens, a row a dialog: of the workspace, or of the person. */
const DIALOGS = {
  room: {
    ...{ called: 'Room of this workspace', Icon: Archive, of: 'workspace' },
    Dialog: ({ session, onClose }) => <RoomDialog workspace={session.workspace} onClose={onClose} />,
  },
  library: {
    ...{ called: 'The whole library', Icon: Library, of: 'workspace' },
    Dialog: ({ session, onClose }) => (
      <LibraryDialog workspace={session.workspace} isOwner={session.role === 'owner'} onClose={onClose} />
    ),
  },
  facts: {
    ...{ called: 'Maker and licence', Icon: Stamp, of: 'workspace' },
    Dialog: ({ session, onClose }) => <FactsDialog workspace={session.workspace} onClose={onClose} />,
  },
  key: {
    ...{ called: 'Signing key', Icon: Signature, of: 'workspace' },
    Dialog: ({ session, onClose }) => (
      <SigningDialog workspace={session.workspace} isOwner={session.role === 'owner'} onClose={onClose} />
    ),
  },
  signIns: {
    ...{ called: 'Where you are signed in', Icon: MonitorSmartphone, of: 'person' },
    Dialog: ({ onClose }) => <SignInsDialog onClose={onClose} />,
  },
  password: {
    ...{ called: 'Change password', Icon: KeyRound, of: 'person' },
    Dialog: ({ session, onClose }) => <PasswordDialog email={session.email} onClose={onClose} />,
  },
  second: {
    ...{ called: 'Second step of signing in', Icon: ShieldCheck, of: 'person' },
    Dialog: ({ session, onClose }) => <SecondFactorDialog isOn={session.second} onClose={onClose} />,
  },
} as const satisfies Record<string, Entry>
type DialogName = keyof typeof DIALOGS
const NAMES = Object.keys(DIALOGS) as DialogName[]

const LINE = 'inline-flex items-center gap-2 rounded-4 px-2 py-1.5 text-left hover:bg-ground'

/** Who is signed in, in which workspace, and what there is to do about either. It is the inside of the button's popover. */
export function AccountMenu({ session }: { session: Session }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [opened, setOpened] = useState<DialogName | 'new-workspace'>()
  const close = () => setOpened(undefined)
  const leave = async () => {
    try {
      await signOut()
      client.clear()
      await navigate('/sign-in')
    } catch (error) {
      toastError(error)
    }
  }
  const goTo = (id: string) => goToWorkspace(id).catch(toastError)
  const list = (of: Entry['of']) =>
    NAMES.filter((name) => DIALOGS[name].of === of).map((name) => {
      const { called, Icon } = DIALOGS[name]
      return (
        <Popover.Close key={name} onClick={() => setOpened(name)} className={LINE}>
          <Icon size={18} aria-hidden /> {called}
        </Popover.Close>
      )
    })
  const Opened = opened && opened !== 'new-workspace' ? DIALOGS[opened].Dialog : undefined
  const owns = session.workspaces.some(({ role }) => role === 'owner')
  return (
    <>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-50 grid max-h-[calc(100dvh-72px)] w-64 gap-1 overflow-y-auto rounded-10 border border-line bg-raised p-3 shadow-lift"
        >
          <p className="truncate px-2 font-title text-18">{session.workspace}</p>
          <p className="px-2 pb-1 text-13 text-quiet">You are {ROLES[session.role].one} here.</p>
          <Popover.Close asChild>
            <Link to="/members" className={LINE}>
              <Users size={18} aria-hidden /> Members
            </Link>
          </Popover.Close>
          {list('workspace')}
          {session.workspaces.length > 1 && (
            <fieldset className="grid gap-1 border-t border-line pt-2">
              <legend className="sr-only">Your workspaces</legend>
              {session.workspaces.map(({ id, name, role }) => (
                <button
                  key={id}
                  type="button"
                  aria-current={id === session.workspaceId}
                  onClick={() => void (id === session.workspaceId ? undefined : goTo(id))}
                  className={`${LINE} min-w-0`}
                >
                  <Check
                    size={18}
                    aria-hidden
                    className={id === session.workspaceId ? 'shrink-0' : 'invisible shrink-0'}
                  />
                  <span className="min-w-0 flex-1 truncate">{name}</span>
                  <span className="text-12 text-quiet">{ROLES[role].called.toLowerCase()}</span>
                </button>
              ))}
            </fieldset>
          )}
          {owns && (
            <Popover.Close onClick={() => setOpened('new-workspace')} className={LINE}>
              <Plus size={18} aria-hidden /> Another workspace
            </Popover.Close>
          )}
          <p className="mt-1 border-t border-line px-2 pt-2 font-medium">{session.name}</p>
          <p className="truncate px-2 pb-1 text-13 text-quiet">{session.email}</p>
          {list('person')}
          <button type="button" onClick={leave} className={LINE}>
            <LogOut size={18} aria-hidden /> Sign out
          </button>
        </Popover.Content>
      </Popover.Portal>
      {Opened && <Opened session={session} onClose={close} />}
      {opened === 'new-workspace' && <NewWorkspaceDialog onClose={close} />}
    </>
  )
}
