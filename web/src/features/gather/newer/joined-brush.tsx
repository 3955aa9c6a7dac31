import { useState } from 'react'
import { Choices, choicesOf } from '../../../components/controls.tsx'
import { type LedgerLine, type LineDecision, lineStroke } from '../../../data/gather.ts'

const WAYS: Record<LineDecision['way'], string> = {
  parts: 'Part by part',
  mine: 'Yours as it is',
  theirs: 'Theirs as it is',
  both: 'Both, side by side',
}
const SIDES = { mine: 'Yours', theirs: 'Theirs' } as const

const UNDECIDED: LineDecision = { way: 'parts', picks: {} }

type Props = {
  gatherId: string
  line: LedgerLine & { taken: NonNullable<LedgerLine['taken']> }
  onDecide: (decision: LineDecision) => Promise<unknown>
}

/** A brush that was changed here and by its maker: both strokes, what comes out, and what is to be had of each. */
export function JoinedBrush({ gatherId, line, onDecide }: Props) {
  const saved = (line.decision as LineDecision | null) ?? UNDECIDED
  // what was pressed is shown at once; what is painted follows what is saved
  const [pressed, setPressed] = useState<LineDecision>()
  const decision = pressed ?? saved
  const decide = async (next: LineDecision) => {
    setPressed(next)
    await onDecide(next)
    setPressed(undefined)
  }
  const { units, had, name } = line.taken
  const asked = units.filter(({ change }) => change === 'both')
  const strokes = [
    { of: 'mine', caption: had ? `Yours, changed since ${had}` : 'Yours' },
    { of: 'theirs', caption: 'Theirs' },
    { of: 'result', caption: decision.way === 'both' ? 'Yours, and theirs beside it' : 'What you get' },
  ] as const
  return (
    <article aria-label={name} className="grid gap-3 px-3 py-4">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="font-title text-24 leading-none">{name}</h2>
        <Choices
          label={`What you take of ${name}`}
          isUnlabelled
          value={decision.way}
          choices={choicesOf(WAYS)}
          onChange={(way) => void decide({ ...decision, way })}
        />
      </div>
      <div className="grid gap-3 sm:grid-cols-3">
        {strokes.map(({ of, caption }) => (
          <figure key={of} className="grid gap-1">
            <img
              src={lineStroke(gatherId, line.id, of, of === 'result' ? saved : undefined)}
              alt={`Stroke of ${name}: ${caption}`}
              width={480}
              height={150}
              className="well h-auto w-full rounded-4"
            />
            <figcaption className="text-13 text-quiet">{caption}</figcaption>
          </figure>
        ))}
      </div>
      {decision.way === 'parts' && (
        <ul className="grid gap-2 text-13">
          {units.map(({ facet, change, label, mine, theirs }) =>
            change === 'both' ? null : (
              <li key={facet} className="flex flex-wrap gap-x-2">
                <span className="font-medium">{label}</span>
                <span className="text-quiet">
                  {change === 'mine' ? `yours stays: ${mine}` : `theirs comes: ${theirs}, it was ${mine}`}
                </span>
              </li>
            ),
          )}
          {asked.map(({ facet, label, mine, theirs }) => (
            <li key={facet}>
              <Choices
                label={`${label}, changed by both`}
                value={decision.picks[facet] ?? 'mine'}
                choices={[
                  { value: 'mine', label: `${SIDES.mine}: ${mine}` },
                  { value: 'theirs', label: `${SIDES.theirs}: ${theirs}` },
                ]}
                onChange={(side) => void decide({ ...decision, picks: { ...decision.picks, [facet]: side } })}
              />
            </li>
          ))}
        </ul>
      )}
      {decision.way === 'both' && (
        <p className="text-13 text-quiet">
          Yours stays as it is, and goes its own way from now on; what its maker changes later comes to theirs.
        </p>
      )}
    </article>
  )
}
