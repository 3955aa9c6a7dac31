import { MENDS, type Place, RULES, type Rule, type RuleName } from '@satchel/core/check-list/rules'
import { Wrench } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import type { Finding } from '../../data/check-list.ts'
import type { Mender } from './use-mender.ts'
import { WEIGHT_LOOKS } from './weights.tsx'

const SHOWN = 5

/** Where a finding is mended by hand. */
const ADDRESSES: Record<Place, { to: (packId: string, brushId: string) => string; word: string }> = {
  tune: { to: (_, brushId) => `/tune/${brushId}`, word: 'Open in Tune' },
  frames: { to: (_, brushId) => `/make/frames/${brushId}`, word: 'Open its frames' },
  grains: { to: () => '/sort/grains', word: 'Open the grains' },
  fit: { to: () => '/fit', word: 'Open Fit' },
  pack: { to: (packId) => `/hand-out/${packId}`, word: 'Open the pack' },
}

type Props = {
  packId: string
  rule: RuleName
  findings: readonly Finding[]
  mender: Mender
  onPass: (findings: readonly Finding[]) => void
  onLookAgain: (findings: readonly Finding[]) => void
}

/** All findings of one kind: what they are, why they matter, and what mends one or all of them. */
export function RuleCard({ packId, rule, findings, mender, onPass, onLookAgain }: Props) {
  const [isWhole, setWhole] = useState(false)
  const { title, why, weight, mend, place }: Rule = RULES[rule]
  const open = findings.filter(({ reason }) => reason === null)
  const passed = findings.filter(({ reason }) => reason !== null)
  const shown = isWhole ? findings : [...open, ...passed].slice(0, SHOWN)
  const { icon, look } = WEIGHT_LOOKS[weight]
  const brushIds = open.flatMap(({ brushId }) => brushId ?? [])
  return (
    <article aria-label={title} className="rounded-10 border border-line bg-surface">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-line px-3 py-2">
        <span className={look}>{icon}</span>
        <div className="min-w-0 flex-1">
          <h3 className="font-title text-18">
            {title} <span className="measure text-quiet">{open.length}</span>
          </h3>
          <p className="text-13 text-quiet">{why}</p>
        </div>
        {mend && brushIds.length > 1 && (
          <Button disabled={mender.isBusy} onClick={() => mender.mend(mend, brushIds)}>
            <Wrench size={18} aria-hidden /> {MENDS[mend]}: all {brushIds.length}
          </Button>
        )}
        {open.length > 1 && (
          <Button kind="quiet" onClick={() => onPass(open)}>
            Let all {open.length} pass
          </Button>
        )}
      </header>
      <ul>
        {shown.map((finding) => (
          <Line
            key={finding.key}
            {...{ packId, finding, place, mender, mend }}
            onPass={() => onPass([finding])}
            onLookAgain={() => onLookAgain([finding])}
          />
        ))}
      </ul>
      {findings.length > shown.length && (
        <Button kind="quiet" className="m-1 text-13" onClick={() => setWhole(true)}>
          Show all {plural(findings.length, 'finding')}
        </Button>
      )}
    </article>
  )
}

type LineProps = {
  packId: string
  finding: Finding
  place: Place
  mender: Mender
  mend: Rule['mend']
  onPass: () => void
  onLookAgain: () => void
}

function Line({ packId, finding, place, mender, mend, onPass, onLookAgain }: LineProps) {
  const { brushId, brush, sentence, reason } = finding
  const { to, word } = ADDRESSES[place]
  const refused = brushId && mender.refused.get(brushId)
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3 py-1.5 last:border-b-0">
      {brushId && (
        <span className="well grid h-9 w-28 shrink-0 place-content-center overflow-clip">
          <img
            src={`/api/brushes/${brushId}/stroke.png`}
            alt=""
            loading="lazy"
            decoding="async"
            className="h-9 object-contain"
          />
        </span>
      )}
      <div className={`min-w-48 flex-1 ${reason === null ? '' : 'text-quiet'}`}>
        <p>
          {brush && <strong className="font-medium">{brush}: </strong>}
          {sentence}
        </p>
        {reason !== null && <p className="text-13">Let pass: {reason}</p>}
        {refused && <p className="text-13 text-madder">{refused}</p>}
      </div>
      {reason === null ? (
        <>
          {mend && brushId && (
            <Button disabled={mender.isBusy} onClick={() => mender.mend(mend, [brushId])}>
              {MENDS[mend]}
            </Button>
          )}
          <Link to={to(packId, brushId ?? '')} className="text-13 text-saddle underline underline-offset-2">
            {word}
          </Link>
          <Button kind="quiet" className="text-13" onClick={onPass}>
            Let pass
          </Button>
        </>
      ) : (
        <Button kind="quiet" className="text-13" onClick={onLookAgain}>
          Look at it again
        </Button>
      )}
    </li>
  )
}
