import { readStoredPlan } from '@satchel/core/make/parse-plan'
import type { Plan } from '@satchel/core/make/ways'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { isSame, useAhead } from '../../ahead/use-ahead.ts'
import { type Source, savePlan, sourceQuery } from '../../data/sources.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { NO_HISTORY, noteChange, type PlanHistory, stepBack, stepForth } from './plan-history.ts'

const ofServer = ({ plan, revision }: Pick<Source, 'plan' | 'revision'>) => ({ value: plan, version: revision })

/** A source's plan ahead of the server, with an undo of its own for as long as the page is open. */
export function usePlan(source: Source) {
  const { id } = source
  const ask = useRefresh()
  const client = useQueryClient()
  const key = sourceQuery(id).queryKey
  const latest = () => (client.getQueryData(key) as Source | undefined) ?? source
  const refresh = () => ask(key)
  const ahead = useAhead<Plan>({
    key: `plan-${id}`,
    server: ofServer(source),
    known: () => ofServer(latest()),
    parse: readStoredPlan,
    async save(plan, base) {
      const { revision } = await savePlan(id, plan, base)
      client.setQueryData(key, (old) => old && { ...old, plan, revision })
      await refresh()
      return { version: revision }
    },
    refresh,
  })
  const plan = ahead.value
  const [history, setHistory] = useState(NO_HISTORY)
  /** The plan that the history leads to. */
  const led = useRef(plan)
  // another page's plan was taken: what was undone here no longer belongs to it
  useEffect(() => {
    if (isSame(led.current, plan)) return
    led.current = plan
    setHistory(NO_HISTORY)
  }, [plan])

  const show = (plan: Plan, history: PlanHistory) => {
    led.current = plan
    setHistory(history)
    ahead.change(plan)
  }
  const go = (step: typeof stepBack) => {
    const to = step(history, led.current)
    if (to) show(to.plan, to.history)
  }
  return {
    ...ahead,
    plan,
    canUndo: history.past.length > 0,
    canRedo: history.undone.length > 0,
    /** @param what Names what is changed; changes of the same that follow each other closely are one. */
    change(next: Plan, what: string) {
      if (!isSame(next, led.current)) show(next, noteChange(history, led.current, { what, at: performance.now() }))
    },
    undo: () => go(stepBack),
    redo: () => go(stepForth),
  }
}
