import pRetry, { type Options } from 'p-retry'
import { useCallback, useEffect, useRef, useState } from 'react'
import { mayPass, RequestError } from '../api/client.ts'
import { type AheadAction, type AheadState, aheadReducer, NOTHING_CHANGED, phaseOf } from './ahead-state.ts'
import { findDraft, keepDraft } from './kept-draft.ts'
import { useOtherDrafts } from './use-other-drafts.ts'

/** A value, and which version of it this is. */
export type Versioned<Value> = { value: Value; version: number }

/** What can be changed ahead of the server, and how it gets there. */
export type Changeable<Value> = {
  /** Names it among all that can be changed. */
  key: string
  /** What the server has, as this page shows it. */
  server: Versioned<Value>
  /** What the server has, as far as anybody here knows by now: later than `server` before the page is drawn again. */
  known: () => Versioned<Value>
  /** Takes what was kept over a reload, as the server takes what it is sent. @throws Where it is none of this kind any more. */
  parse: (kept: unknown) => Value
  /** Saves it, and shows it as saved. @throws {RequestError} */
  save: (value: Value, base: number) => Promise<{ version: number }>
  /** Asks the server what it has. */
  refresh: () => Promise<unknown>
  /** What is changed is saved by hand alone: it is kept, and told as changed, but does not go by itself. */
  isByHand?: boolean
}

/** A slider that still moves is not yet a version. */
const SETTLE_MS = 600
const CONFLICT = 409
/** Waits of 2 s and more, a minute at most, for as long as the page is open. */
const WAITS: Options = { retries: Number.POSITIVE_INFINITY, minTimeout: 2000, factor: 2, maxTimeout: 60_000 }

/** The database gives fields in an order of its own. */
const inOneOrder = (_key: string, value: unknown): unknown =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
    : value
/** Whether two values say the same, in whichever order their fields come. */
export const isSame = (a: unknown, b: unknown): boolean =>
  JSON.stringify(a, inOneOrder) === JSON.stringify(b, inOneOrder)

/** What the server makes of a value: it parses what it is sent, which may trim it; what it refuses is stored as nothing else. */
function asStored<Value>(value: Value, parse: (kept: unknown) => Value): Value {
  try {
    return parse(value)
  } catch {
    return value
  }
}

/** What a page begins with: nothing changed, or what was not saved before it was loaded anew. */
function stateAtFirst<Value>({ key, parse, server }: Changeable<Value>): AheadState<Value> {
  const draft = findDraft(key, parse)
  if (!draft || isSame(draft.value, server.value)) return NOTHING_CHANGED
  const trouble = draft.base === server.version ? undefined : ({ kind: 'overtaken' } as const)
  return { ...NOTHING_CHANGED, draft, changes: 1, trouble }
}

/**
 * What is being changed, ahead of the server: every change shows at once, is kept over a reload, and is saved as a version
 * once it settles. What the server does not take is sent again after a while; what was saved elsewhere meanwhile is never
 * covered unasked. Everything that asks the server for a change is done one after the other, each on the version that the
 * one before it left.
 */
export function useAhead<Value>(changeable: Changeable<Value>) {
  const { key, server } = changeable
  const what = useRef(changeable)
  what.current = changeable
  const [state, setState] = useState(() => stateAtFirst(changeable))
  const now = useRef(state)
  const settling = useRef<ReturnType<typeof setTimeout>>(undefined)
  const trying = useRef<AbortController>(undefined)
  const queue = useRef<Promise<unknown>>(Promise.resolve())

  const apply = useCallback(
    (action: AheadAction<Value>) => {
      now.current = aheadReducer(now.current, action)
      keepDraft(key, now.current.draft)
      setState(now.current)
    },
    [key],
  )
  const inTurn = useCallback(<Result>(work: () => Promise<Result>): Promise<Result> => {
    const done = queue.current.then(work)
    queue.current = done.catch(() => undefined)
    return done
  }, [])

  /** Saves the draft, if it may. @returns Whether nothing is left unsaved. */
  const save = useCallback(async (): Promise<boolean> => {
    clearTimeout(settling.current)
    const { draft, changes, trouble } = now.current
    if (!draft) return true
    if (trouble?.kind === 'overtaken') return false
    const { known, save: send, refresh } = what.current
    if (isSame(draft.value, known().value) && draft.base === known().version) {
      apply({ type: 'saved', version: draft.base, changes })
      return now.current.draft === undefined
    }
    apply({ type: 'begin' })
    try {
      const { version } = await send(draft.value, draft.base)
      apply({ type: 'saved', version, changes })
    } catch (error) {
      const sentence = error instanceof Error ? error.message : String(error)
      if (error instanceof RequestError && error.status === CONFLICT) {
        // to go on top of it, one has to know which version it is
        await refresh()
        const saved = known()
        // an answer that was lost, or this page as it was before: it is what is there
        if (isSame(asStored(draft.value, what.current.parse), saved.value))
          apply({ type: 'saved', version: saved.version, changes })
        else apply({ type: 'overtaken' })
      } else if (error instanceof RequestError && !mayPass(error)) apply({ type: 'refused', sentence })
      else apply({ type: 'waiting', sentence })
    }
    return now.current.draft === undefined
  }, [apply])

  /** Saves now; what finds no answer is tried again after a while. @returns Whether nothing is left unsaved at first. */
  const flush = useCallback((): Promise<boolean> => {
    clearTimeout(settling.current)
    trying.current?.abort()
    trying.current = new AbortController()
    const { signal } = trying.current
    return new Promise((answer, fail) => {
      const once = async () => {
        answer(await inTurn(save))
        const { trouble } = now.current
        if (trouble?.kind === 'waiting') throw new Error(trouble.sentence)
      }
      pRetry(once, { ...WAITS, signal }).catch((error) => signal.aborted || fail(error))
    })
  }, [inTurn, save])

  const change = useCallback(
    (next: Value | ((before: Value) => Value)) => {
      const { known, isByHand } = what.current
      const { value: saved, version } = known()
      const before = now.current.draft?.value ?? saved
      const value = next instanceof Function ? next(before) : next
      apply({ type: 'change', value, version })
      clearTimeout(settling.current)
      // what was refused an answer, and changed since, is no longer what was to be saved
      if (isByHand) trying.current?.abort()
      else settling.current = setTimeout(() => void flush(), SETTLE_MS)
    },
    [apply, flush],
  )

  /**
   * A change that the server makes, on top of everything changed so far.
   * @param step Takes the version that it is made on.
   * @throws {RequestError} If it refuses, or what was changed before could not be saved.
   */
  const make = useCallback(
    <Result>(step: (from: number) => Promise<Result>): Promise<Result> =>
      inTurn(async () => {
        if (!(await save())) throw new RequestError(0, 'What you changed before could not be saved yet; see above.')
        const made = await step(what.current.known().version)
        await what.current.refresh()
        return made
      }),
    [inTurn, save],
  )

  const saveOnTop = useCallback(() => {
    apply({ type: 'onTop', version: what.current.known().version })
    return flush()
  }, [apply, flush])
  const drop = useCallback(() => {
    trying.current?.abort()
    clearTimeout(settling.current)
    apply({ type: 'drop' })
  }, [apply])

  useEffect(() => {
    const saveUnasked = () => {
      if (!what.current.isByHand && now.current.draft) void flush()
    }
    saveUnasked() // what a reload left behind
    document.addEventListener('visibilitychange', saveUnasked)
    return () => {
      document.removeEventListener('visibilitychange', saveUnasked)
      saveUnasked() // leaving the page saves what has not settled yet
      trying.current?.abort() // and nothing is tried again by a page that is not there; it is kept
    }
  }, [flush])
  const isTroubled = state.trouble !== undefined
  useEffect(() => {
    if (!isTroubled) return
    const warn = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [isTroubled])

  return {
    value: state.draft?.value ?? server.value,
    isChanged: state.draft !== undefined,
    phase: phaseOf(state),
    trouble: state.trouble,
    /** Another page of this browser has changes of it that could not be saved. */
    isUnsavedElsewhere: useOtherDrafts(key, isTroubled),
    change,
    make,
    save: flush,
    saveOnTop,
    drop,
  }
}
/** What is changed ahead of the server, and all that can be done about it. */
export type Ahead<Value> = ReturnType<typeof useAhead<Value>>
