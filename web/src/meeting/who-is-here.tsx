import { ROLES } from '@satchel/core/members/roles'
import { useQuery } from '@tanstack/react-query'
import { formatDistanceToNowStrict } from 'date-fns'
import { useEffect } from 'react'
import { type Meeting, presenceQuery, sayGone } from '../data/presence.ts'
import { sessionQuery } from '../data/session.ts'

/** Who else has a thing open just now, and who saved it last; nothing where one is alone with it. */
export default function WhoIsHere({ kind, id }: Meeting) {
  const { data: session } = useQuery(sessionQuery)
  const mayWrite = session?.signedIn === true && ROLES[session.role].mayWrite
  const { data } = useQuery({ ...presenceQuery({ kind, id }, mayWrite), enabled: session?.signedIn === true })
  useEffect(() => {
    if (!mayWrite) return
    const gone = () => sayGone({ kind, id })
    window.addEventListener('pagehide', gone)
    return () => {
      window.removeEventListener('pagehide', gone)
      gone()
    }
  }, [kind, id, mayWrite])
  if (!data || !session?.signedIn) return null
  const { others, saved } = data
  const isOfAnother = saved !== null && saved.person !== session.name
  if (others.length === 0 && !isOfAnother) return null
  const who = `${inWords(others.map(({ name }) => name))} ${others.length === 1 ? 'is' : 'are'} here too`
  return (
    <p role="status" className="min-w-0 text-right text-13 leading-tight">
      {others.length > 0 && (
        <span className="flex items-center justify-end gap-1.5" title={who}>
          <span aria-hidden className="h-2 w-2 shrink-0 rotate-45 bg-saddle" />
          <span className="sr-only truncate wide:not-sr-only">{who}</span>
        </span>
      )}
      {isOfAnother && (
        <span
          className="sr-only truncate text-12 text-quiet wide:not-sr-only wide:block"
          title={new Date(saved.at).toLocaleString('en')}
        >
          saved by {saved.person} {formatDistanceToNowStrict(new Date(saved.at), { addSuffix: true })}
        </span>
      )}
    </p>
  )
}

const LIST = new Intl.ListFormat('en')
const NAMED_MAX = 3
const inWords = (names: readonly string[]) =>
  LIST.format(
    names.length > NAMED_MAX ? [...names.slice(0, NAMED_MAX - 1), `${names.length - NAMED_MAX + 1} more`] : names,
  )
