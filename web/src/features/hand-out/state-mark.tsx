import type { HandOut } from '../../data/packs.ts'
import { stateOf } from '../../data/people.ts'

/** How a hand-out stands. */
export function StateMark({ handOut }: { handOut: HandOut }) {
  const { word, mark, look } = stateOf(handOut)
  return (
    <span className={`font-medium ${look}`}>
      <span aria-hidden>{mark}</span> {word}
    </span>
  )
}
