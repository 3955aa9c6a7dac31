import type { LedgerLine } from '../../../data/gather.ts'
import { STANDING_WORDS } from './standing-words.ts'

/** How a line stands to the brush that was taken of it before. */
export function NewerNote({
  taken,
  decision,
}: Pick<LedgerLine, 'decision'> & { taken: NonNullable<LedgerLine['taken']> }) {
  const { word, more, needsCare } = STANDING_WORDS[taken.standing]
  const way = needsCare ? (decision?.way ?? 'parts') : 'parts'
  return (
    <span>
      <strong className={needsCare ? 'text-amber' : 'text-ink'}>{word}</strong>
      {`: ${way === 'parts' ? more(taken) : DECIDED[way]}`}
      {taken.isStrange && taken.standing !== 'same' && '; not signed by whom the first was'}
    </span>
  )
}

const DECIDED = {
  mine: 'all of yours stays',
  theirs: 'all of theirs comes',
  both: 'yours stays, theirs comes beside it',
}
