import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { RequestError } from '../../api/client.ts'
import { toastError } from '../../components/toasts.tsx'
import { type EditAction, type EditState, editReducer, NOTHING_CHANGED, phaseOf, waitMs } from './edit-state.ts'
import { findDraft, keepDraft } from './kept-draft.ts'
import { type Brush, brushQuery, type Facts, goToVersion, saveBrush } from './queries.ts'

/** A slider that still moves is not yet a version. */
const SETTLE_MS = 600
const CONFLICT = 409

const factsOf = ({ name, maker, licence, tags, recipe }: Brush): Facts => ({ name, maker, licence, tags, recipe })
const isSame = (a: Facts, b: Facts) => JSON.stringify(a) === JSON.stringify(b)

/** What a page begins with: nothing changed, or what was not saved before it was loaded anew. */
function stateAtFirst(brush: Brush): EditState {
  const draft = findDraft(brush.id)
  if (!draft || isSame(draft.facts, factsOf(brush))) return NOTHING_CHANGED
  const trouble = draft.base === brush.version ? undefined : ({ kind: 'overtaken' } as const)
  return { ...NOTHING_CHANGED, draft, changes: 1, trouble }
}

/**
 * What is being changed, ahead of the server: every change shows at once and is saved as a version once it settles.
 * Undo and redo walk the saved versions, so they outlive the page. Everything that asks the server for a change is done
 * one after the other, each on the version that the one before it left.
 */
export function useBrushEdit(brush: Brush) {
  const client = useQueryClient()
  const { id } = brush
  const [state, setState] = useState(() => stateAtFirst(brush))
  const now = useRef(state)
  const settling = useRef<ReturnType<typeof setTimeout>>(undefined)
  const queue = useRef<Promise<unknown>>(Promise.resolve())
  const key = useMemo(() => brushQuery(id).queryKey, [id])

  const apply = useCallback(
    (action: EditAction) => {
      now.current = editReducer(now.current, action)
      keepDraft(id, now.current.draft)
      setState(now.current)
    },
    [id],
  )
  const onServer = useCallback(() => client.getQueryData(key) ?? brush, [client, key, brush])
  const refresh = useCallback(async () => {
    await client.invalidateQueries({ queryKey: key })
    void client.invalidateQueries({ queryKey: ['brushes'] })
  }, [client, key])

  const inTurn = useCallback(<Result>(work: () => Promise<Result>): Promise<Result> => {
    const done = queue.current.then(work)
    queue.current = done.catch(() => undefined)
    return done
  }, [])

  /** Saves the draft. @returns Whether nothing is left unsaved. */
  const save = useCallback(async (): Promise<boolean> => {
    clearTimeout(settling.current)
    const { draft, changes, trouble } = now.current
    if (!draft) return true
    if (trouble?.kind === 'overtaken') return false
    apply({ type: 'begin' })
    try {
      const { version } = await saveBrush(id, draft.facts, draft.base)
      client.setQueryData(key, (old) => old && { ...old, ...draft.facts, ...savedAs(version, old.versions) })
      await refresh()
      apply({ type: 'saved', version, changes })
    } catch (error) {
      const { status, message } = error instanceof RequestError ? error : { status: 0, message: String(error) }
      if (status === CONFLICT) {
        await refresh()
        apply({ type: 'overtaken' })
      } else if (status === 0 || status >= 500) apply({ type: 'unanswered', sentence: message })
      else apply({ type: 'refused', sentence: message })
    }
    return now.current.draft === undefined
  }, [id, client, key, apply, refresh])

  const flush = useCallback(() => inTurn(save), [inTurn, save])
  const saveIn = useCallback(
    (delayMs: number) => {
      clearTimeout(settling.current)
      settling.current = setTimeout(() => void flush(), delayMs)
    },
    [flush],
  )

  const change = useCallback(
    (next: Partial<Facts>) => {
      const server = onServer()
      const facts = { ...(now.current.draft?.facts ?? factsOf(server)), ...next }
      apply({ type: 'change', facts, version: server.version })
      saveIn(SETTLE_MS)
    },
    [apply, onServer, saveIn],
  )

  /** Goes to the version that `pick` names, after everything changed before has been saved. */
  const go = useCallback(
    (pick: (at: { version: number; newest: number }) => number) =>
      inTurn(async () => {
        if (!(await save())) return
        const { version, versions } = onServer()
        const newest = versions[0]?.ordinal ?? version
        const wanted = Math.min(newest, Math.max(1, pick({ version, newest })))
        if (wanted === version) return
        await goToVersion(id, wanted).catch(toastError)
        await refresh()
      }),
    [inTurn, save, onServer, id, refresh],
  )

  /** A change that the server makes, on top of everything changed so far. @throws {RequestError} If it refuses. */
  const make = useCallback(
    (step: (from: number) => Promise<{ version: number }>) =>
      inTurn(async () => {
        if (!(await save())) throw new RequestError(0, 'What you changed before could not be saved yet; see above.')
        await step(onServer().version)
        await refresh()
      }),
    [inTurn, save, onServer, refresh],
  )

  const saveOnTop = useCallback(() => {
    apply({ type: 'onTop', version: onServer().version })
    void flush()
  }, [apply, onServer, flush])
  const drop = useCallback(() => apply({ type: 'drop' }), [apply])

  const phase = phaseOf(state)
  const isTroubled = state.trouble !== undefined
  const tries = state.trouble?.kind === 'waiting' ? state.trouble.tries : 0
  // What the server did not take is sent again by itself; what a reload left behind, too.
  useEffect(() => {
    if (phase === 'waiting') saveIn(waitMs(tries))
  }, [phase, tries, saveIn])
  useEffect(() => {
    if (now.current.draft) void flush()
    const onHide = () => void flush()
    document.addEventListener('visibilitychange', onHide)
    return () => {
      document.removeEventListener('visibilitychange', onHide)
      void flush() // leaving the page saves what has not settled yet
    }
  }, [flush])
  useEffect(() => {
    if (!isTroubled) return
    const warn = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [isTroubled])

  const newest = brush.versions[0]?.ordinal ?? brush.version
  return {
    facts: state.draft?.facts ?? factsOf(brush),
    phase,
    trouble: state.trouble,
    change,
    make,
    undo: () => go(({ version }) => version - 1),
    redo: () => go(({ version }) => version + 1),
    goTo: (ordinal: number) => go(() => ordinal),
    tryNow: flush,
    saveOnTop,
    drop,
    canUndo: brush.version > 1 || state.draft !== undefined,
    canRedo: state.draft === undefined && brush.version < newest,
  }
}

/** The history with a version more, which takes the place of those that had been undone. */
const savedAs = (version: number, versions: Brush['versions']) => ({
  version,
  versions: [
    { ordinal: version, label: '', createdAt: new Date().toISOString() },
    ...versions.filter(({ ordinal }) => ordinal < version),
  ],
})
