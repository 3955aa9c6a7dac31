import { type Dispatch, useCallback, useEffect, useReducer, useRef, useState } from 'react'
import { toastError } from '../../components/toasts.tsx'
import { type Choice, type ChoiceAction, choose, NO_CHOICE } from './choice.ts'

/** Chooses lines that are not on the page: a range besides what is chosen, or all in the place of it. */
export type AskForIds = (how: 'range' | 'all', load: () => Promise<{ ids: string[] }>) => void

/** The choice in one list; another list means another choice. */
export function useChoice(list: string): { choice: Choice; dispatch: Dispatch<ChoiceAction>; ask: AskForIds } {
  const [choice, dispatch] = useReducer(choose, NO_CHOICE)
  const round = useRef(choice.round)
  round.current = choice.round
  // biome-ignore lint/correctness/useExhaustiveDependencies: another list means another choice
  useEffect(() => dispatch({ type: 'reset' }), [list])
  const ask = useCallback<AskForIds>((how, load) => {
    const asked = round.current
    const answer = (ids: string[] | undefined) => dispatch({ type: 'answer', round: asked, how, ids })
    dispatch({ type: 'ask' })
    load().then(
      ({ ids }) => answer(ids),
      (error) => {
        toastError(error)
        answer(undefined)
      },
    )
  }, [])
  return { choice, dispatch, ask }
}

/**
 * Acts on what is chosen, and on nothing less: an act that comes while chosen lines are still asked for waits for them, and
 * is not done where they cannot be had.
 * @returns Starts an act by its name; with nothing chosen it does nothing.
 */
export function useActs<Act extends string>(acts: Record<Act, () => void>, { chosen, asking, round }: Choice) {
  const [due, setDue] = useState<{ act: Act; round: number }>()
  const run = (act: Act) => {
    if (asking > 0) setDue({ act, round })
    else if (chosen.size > 0) acts[act]()
  }
  useEffect(() => {
    if (!due || (asking > 0 && due.round === round)) return
    setDue(undefined)
    if (due.round === round && chosen.size > 0) acts[due.act]()
  }, [due, asking, round, chosen, acts])
  return run
}
