import { WEIGHTS } from '@satchel/core/check-list/rules'
import { useQuery } from '@tanstack/react-query'
import { Check as Tick } from 'lucide-react'
import { Link } from 'react-router'
import { plural } from '../../components/format.ts'
import { type Check, checkQuery } from '../../data/check-list.ts'
import { WEIGHT_LOOKS } from './weights.tsx'

/** How many findings of each weight are open, and how much was not looked at yet, in two lines. */
export function CheckSummary({ packId }: { packId: string }) {
  const check = useQuery(checkQuery(packId))
  if (!check.data) return null
  const open = check.data.findings.filter(({ reason }) => reason === null)
  const passed = check.data.findings.length - open.length
  return (
    <div className="grid gap-1 rounded-10 border border-line bg-surface p-3">
      <div className="flex items-baseline justify-between gap-3">
        <h3 className="font-title text-18">Check list</h3>
        <Link to={`/hand-out/${packId}/check`} className="text-13 text-saddle underline underline-offset-2">
          Open the check list
        </Link>
      </div>
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
      {unseen(check.data) && <p className="text-13 text-quiet">{unseen(check.data)}</p>}
    </div>
  )
}

/** What of a pack was not looked at yet, in words; nothing where all was. */
export function unseen({ measured, brushes, unknownFits, isAlikeKnown }: Check): string | undefined {
  const left = brushes - measured
  if (left > 0) return `${plural(left, 'brush', 'brushes')} of ${brushes} not looked at yet.`
  if (unknownFits > 0) return `How they arrive is not measured in ${plural(unknownFits, 'place')}.`
  return isAlikeKnown || brushes === 0 ? undefined : 'Which tips look alike is not known yet.'
}
