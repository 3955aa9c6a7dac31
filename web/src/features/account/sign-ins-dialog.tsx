import { useQuery } from '@tanstack/react-query'
import Bowser from 'bowser'
import { formatDistanceToNowStrict } from 'date-fns'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { LoadError, Loading } from '../../components/states.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import { endSignIn, type SignIn, signInsQuery } from '../../data/members.ts'
import { useRefresh } from '../../data/use-refresh.ts'

/** Where one is signed in, each to be ended. */
export function SignInsDialog({ onClose }: { onClose: () => void }) {
  const signIns = useQuery(signInsQuery)
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Where you are signed in"
      description="If you do not know one of these, end it and change your password."
    >
      {signIns.isPending && <Loading what="your sign-ins" />}
      {signIns.isError && <LoadError error={signIns.error} onRetry={() => void signIns.refetch()} />}
      {signIns.data && (
        <ul className="grid gap-2">
          {signIns.data.signIns.map((signIn) => (
            <Line key={signIn.id} signIn={signIn} />
          ))}
        </ul>
      )}
    </Dialog>
  )
}

const SHOWN_CHARS = 60
const ago = (date: string) => formatDistanceToNowStrict(new Date(date), { addSuffix: true })

function Line({ signIn: { id, isThis, begunAt, usedAt, from, browser } }: { signIn: SignIn }) {
  const refresh = useRefresh()
  const end = async () => {
    try {
      await endSignIn(id)
      toast('That sign-in has ended.')
    } catch (error) {
      toastError(error)
    }
    await refresh('sign-ins')
  }
  return (
    <li className="flex items-center justify-between gap-3 border-b border-line pb-2 last:border-b-0">
      <div className="min-w-0">
        <p className="break-words">{shortOf(browser)}</p>
        <p className="text-13 text-quiet" title={browser}>
          {from && `from ${from}, `}since {ago(begunAt).replace(' ago', '')}
          {isThis ? ', this one' : `, used ${ago(usedAt)}`}
        </p>
      </div>
      {!isThis && <Button onClick={() => void end()}>End</Button>}
    </li>
  )
}

/** What can be told from how a browser calls itself: the whole of it is said beside. */
function shortOf(browser: string): string {
  if (browser === '') return 'A program that does not say its name'
  const {
    browser: { name },
    os: { name: system },
  } = Bowser.parse(browser)
  return name || system ? [name, system && `on ${system}`].filter(Boolean).join(' ') : browser.slice(0, SHOWN_CHARS)
}
