import { useEffect } from 'react'
import { Link } from 'react-router'
import { lookForNewer, type NewerThere } from '../../data/exchanges.ts'
import { useRefresh } from '../../data/use-refresh.ts'

/** Packs of which their exchange has a newer release; that is asked anew whenever the page is opened. */
export function NewerOnes({ newer }: { newer: readonly NewerThere[] }) {
  const refresh = useRefresh()
  useEffect(() => {
    // an exchange that does not answer is said where it is looked through
    lookForNewer().then(
      () => refresh(['exchange', 'all']),
      () => undefined,
    )
  }, [refresh])
  if (newer.length === 0) return null
  return (
    <ul aria-label="Newer releases" className="mb-4 grid gap-1 rounded-10 border border-amber bg-surface p-3">
      {newer.map(({ host, item, title, had, now, exchange }) => (
        <li key={`${host} ${item}`}>
          <Link to={`/gather/exchange/${encodeURIComponent(host)}/${item}`} className="underline">
            {title}
          </Link>{' '}
          is at {exchange} as <span className="measure">{now}</span>; here is <span className="measure">{had}</span>.
        </li>
      ))}
    </ul>
  )
}
