import { WEIGHTS } from '@satchel/core/check-list/rules'
import { useQuery } from '@tanstack/react-query'
import { Check as Tick } from 'lucide-react'
import { Link } from 'react-router'
import { plural } from '../../components/format.ts'
import { type Check, checkQuery } from '../../data/check-list.ts'
import { WEIGHT_LOOKS } from './weights.tsx'

/**
 * How many findings of each weight are open, and how much was not looked at yet, in two lines.
 * It takes its room from the start: what lies below it is pressed while this is fetched.
 */
export function CheckSummary({ packId }: { packId: string }) {
  const check = useQuery(checkQuery(packId))
  return (
    <div className="grid min-h-[98px] content-start gap-1 rounded-10 border border-line bg-surface p-3">
      <div className="flex items-baseline justify-between gap-3">
        <h3 className="font-title text-18">Check list</h3>
        <Link to={`/hand-out/${packId}/check`} className="text-13 text-saddle underline underline-offset-2">
          Open the check list
        </Link>
      </div>
      {check.data ? <Counted check={check.data} /> : <p className="text-13 text-quiet">{waiting(check.error)}</p>}
    </div>
  )
}

const waiting = (error: Error | null) => (error ? error.message : 'Fetching what it has to say …')

function Counted({ check }: { check: Check }) {
  const open = check.findings.filter(({ reason }) => reason === null)
  const passed = check.findings.length - open.length
  const left = unseen(check)
  return (
    <>
      <p className="flex flex-wrap gap-x-4 gap-y-1 text-13">
        {WEIGHTS.map((weight) => {
          const count = open.filter((finding) => finding.weight === weight).length
          if (count === 0) return null
          const { icon, counted, look } = WEIGHT_LOOKS[weight]
          return (
            <span key={weight} className={`inline-flex items-center gap-1 ${look}`}>
              {icon} <span className="measure">{count}</span> {counted[count === 1 ? 0 : 1]}
            </span>
          )
        })}
        {open.length === 0 && (
          <span className="inline-flex items-center gap-1 text-moss">
            <Tick size={18} aria-hidden /> nothing to say
          </span>
        )}
        {passed > 0 && <span className="text-quiet">{passed} let pass</span>}
      </p>
      {left && <p className="text-13 text-quiet">{left}</p>}
    </>
  )
}

/** What of a pack was not looked at yet, in words; nothing where all was. */
export function unseen({ measured, brushes, unknownFits, isAlikeKnown }: Check): string | undefined {
  const left = brushes - measured
  if (left > 0) return `${plural(left, 'brush', 'brushes')} of ${brushes} not looked at yet.`
  if (unknownFits > 0) return `How they arrive is not measured in ${plural(unknownFits, 'place')}.`
  return isAlikeKnown || brushes === 0 ? undefined : 'Which tips look alike is not known yet.'
}
