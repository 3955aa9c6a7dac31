import { type Plan, parsePlan } from '@satchel/core/make/ways'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useReducer, useRef, useState } from 'react'
import { RequestError } from '../../api/client.ts'
import { beginHistory, planReducer } from './plan-history.ts'
import { type Source, savePlan, sourceQuery } from './queries.ts'

const SETTLE_MS = 500
const AGAIN_MS = 4000
const CONFLICT = 409

export type SaveState =
  | { kind: 'saved' | 'saving' | 'changed' | 'overtaken' }
  | { kind: 'unanswered' | 'refused'; sentence: string }

const keyOf = (id: string) => `satchel-plan-${id}`
/** What was changed here and not saved before the page was loaded anew. */
function findKept(id: string): { plan: Plan; base: number } | undefined {
  try {
    const kept = JSON.parse(sessionStorage.getItem(keyOf(id)) ?? 'null')
    return kept ? { plan: parsePlan(kept.plan), base: Number(kept.base) } : undefined
  } catch {
    return undefined
  }
}
function keep(id: string, kept: { plan: Plan; base: number } | undefined): void {
  try {
    if (kept) sessionStorage.setItem(keyOf(id), JSON.stringify(kept))
    else sessionStorage.removeItem(keyOf(id))
  } catch {
    // no room, or none allowed: it is still on the page
  }
}

/** The database gives the fields of a plan in an order of its own. */
const inOneOrder = (_key: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
    : value
const isSame = (a: Plan, b: Plan) => JSON.stringify(a, inOneOrder) === JSON.stringify(b, inOneOrder)

/**
 * A source's plan ahead of the server: every change shows at once, is kept over a reload, and saved once it settles. What
 * was changed elsewhere meanwhile is never written over unasked.
 */
export function usePlan(source: Source) {
  const { id } = source
  const client = useQueryClient()
  const [kept] = useState(() => findKept(id))
  const [history, dispatch] = useReducer(planReducer, kept?.plan ?? source.plan, beginHistory)
  const base = useRef(kept?.base ?? source.revision)
  const onServer = useRef(source.plan)
  const [state, setState] = useState<SaveState>({ kind: 'saved' })
  const isOvertaken = useRef(kept !== undefined && kept.base !== source.revision && !isSame(kept.plan, source.plan))
  const now = useRef(history.now)
  now.current = history.now
  const saving = useRef<Promise<boolean>>(undefined)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)

  const save = useCallback(async (): Promise<boolean> => {
    clearTimeout(timer.current)
    if (saving.current && !(await saving.current)) return false
    if (isOvertaken.current) return false
    const plan = now.current
    if (isSame(plan, onServer.current)) return true
    setState({ kind: 'saving' })
    const run = async () => {
      try {
        const { revision } = await savePlan(id, plan, base.current)
        base.current = revision
        onServer.current = plan
        client.setQueryData(sourceQuery(id).queryKey, (old) => old && { ...old, plan, revision })
        const isDone = isSame(plan, now.current)
        if (isDone) keep(id, undefined)
        setState({ kind: isDone ? 'saved' : 'changed' })
        return true
      } catch (error) {
        const { status, message } = error instanceof RequestError ? error : { status: 0, message: String(error) }
        if (status === CONFLICT) {
          isOvertaken.current = true
          setState({ kind: 'overtaken' })
          // to go on top of it, one has to know which revision it is
          void client.invalidateQueries({ queryKey: sourceQuery(id).queryKey })
        } else if (status >= 400 && status < 500) setState({ kind: 'refused', sentence: message })
        else {
          setState({ kind: 'unanswered', sentence: message })
          timer.current = setTimeout(() => void save(), AGAIN_MS)
        }
        return false
      } finally {
        saving.current = undefined
      }
    }
    saving.current = run()
    const isSaved = await saving.current
    return isSaved && (isSame(now.current, onServer.current) || save())
  }, [id, client])

  // what is changed is kept at once, and saved once it settles
  useEffect(() => {
    if (isSame(history.now, onServer.current)) {
      keep(id, undefined)
      return
    }
    keep(id, { plan: history.now, base: base.current })
    if (isOvertaken.current) {
      setState({ kind: 'overtaken' })
      return
    }
    setState((old) => (old.kind === 'saving' ? old : { kind: 'changed' }))
    timer.current = setTimeout(() => void save(), SETTLE_MS)
    return () => clearTimeout(timer.current)
  }, [history.now, id, save])

  // another page changed it, or the picture, and nothing waits here: take it
  useEffect(() => {
    if (source.revision <= base.current) return
    if (!saving.current && isSame(now.current, onServer.current)) {
      base.current = source.revision
      if (!isSame(onServer.current, source.plan)) dispatch({ type: 'take', plan: source.plan })
      onServer.current = source.plan
    }
  }, [source.revision, source.plan])

  useEffect(() => () => void save(), [save])

  return {
    plan: history.now,
    state,
    canUndo: history.past.length > 0,
    canRedo: history.undone.length > 0,
    change: (plan: Plan, what: string) => dispatch({ type: 'change', plan, what, at: performance.now() }),
    undo: () => dispatch({ type: 'undo' }),
    redo: () => dispatch({ type: 'redo' }),
    save,
    /** The revision that the next change is made on. */
    revision: () => base.current,
    /** What was changed here goes on top of what was saved elsewhere. */
    putOnTop: () => {
      isOvertaken.current = false
      base.current = source.revision
      onServer.current = source.plan
      return save()
    },
    /** What was saved elsewhere takes the place of what was changed here. */
    takeTheirs: () => {
      isOvertaken.current = false
      base.current = source.revision
      onServer.current = source.plan
      keep(id, undefined)
      setState({ kind: 'saved' })
      dispatch({ type: 'take', plan: source.plan })
    },
  }
}
export type PlanEdit = ReturnType<typeof usePlan>
