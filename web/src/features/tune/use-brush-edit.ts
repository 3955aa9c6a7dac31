import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { toastError } from '../../components/toasts.tsx'
import { type Brush, brushQuery, type Facts, goToVersion, saveBrush } from './queries.ts'

/** A slider that still moves is not yet a version. */
const SETTLE_MS = 600

export type SaveState = 'saved' | 'changed' | 'saving'

const factsOf = ({ name, maker, licence, tags, recipe }: Brush): Facts => ({ name, maker, licence, tags, recipe })

/**
 * What is being changed, ahead of the server: every change shows at once and is saved as a version once it settles.
 * Undo and redo walk the saved versions, so they outlive the page.
 */
export function useBrushEdit(brush: Brush) {
  const client = useQueryClient()
  const [draft, setDraft] = useState<Facts>()
  const [state, setState] = useState<SaveState>('saved')
  const pending = useRef<{ facts: Facts; timer: ReturnType<typeof setTimeout> } | undefined>(undefined)
  const version = useRef(brush.version)
  const working = useRef(Promise.resolve())
  /** Saves that have begun or wait for one that has. */
  const queued = useRef(0)
  if (!pending.current && state === 'saved') version.current = brush.version
  const { id } = brush

  const refresh = useCallback(async () => {
    await client.invalidateQueries({ queryKey: brushQuery(id).queryKey })
    void client.invalidateQueries({ queryKey: ['brushes'] })
  }, [client, id])

  const flush = useCallback(() => {
    const waiting = pending.current
    if (!waiting) return working.current
    clearTimeout(waiting.timer)
    pending.current = undefined
    queued.current++
    setState('saving')
    working.current = working.current.then(async () => {
      try {
        version.current = (await saveBrush(id, waiting.facts, version.current)).version
      } catch (error) {
        toastError(error)
      }
      await refresh()
      if (--queued.current === 0 && !pending.current) {
        setDraft(undefined)
        setState('saved')
      }
    })
    return working.current
  }, [id, refresh])

  const facts = draft ?? factsOf(brush)
  const latest = useRef(facts)
  latest.current = facts
  const change = useCallback(
    (next: Partial<Facts>) => {
      const whole = { ...latest.current, ...next }
      latest.current = whole
      if (pending.current) clearTimeout(pending.current.timer)
      pending.current = { facts: whole, timer: setTimeout(() => void flush(), SETTLE_MS) }
      setDraft(whole)
      setState('changed')
    },
    [flush],
  )

  const go = useCallback(
    async (ordinal: number) => {
      try {
        await goToVersion(id, ordinal)
      } catch (error) {
        toastError(error)
      }
      await refresh()
    },
    [id, refresh],
  )
  /** A change that the server makes, on top of everything changed so far. @throws {RequestError} If it refuses. */
  const make = useCallback(
    async (step: (from: number) => Promise<{ version: number }>) => {
      await flush()
      setState('saving')
      const made = working.current.then(async () => {
        version.current = (await step(version.current)).version
      })
      working.current = made
        .catch(() => undefined)
        .then(async () => {
          await refresh()
          if (queued.current === 0 && !pending.current) setState('saved')
        })
      await made
      await working.current
    },
    [flush, refresh],
  )
  const newest = brush.versions[0]?.ordinal ?? brush.version
  const undo = useCallback(async () => {
    await flush()
    if (version.current > 1) await go(version.current - 1)
  }, [flush, go])
  const redo = useCallback(async () => {
    await flush()
    if (version.current < newest) await go(version.current + 1)
  }, [flush, go, newest])

  const goTo = useCallback(
    async (ordinal: number) => {
      await flush()
      await go(ordinal)
    },
    [flush, go],
  )

  // Leaving the page saves what has not settled yet.
  useEffect(() => () => void flush(), [flush])

  return {
    facts,
    change,
    make,
    state,
    undo,
    redo,
    goTo,
    canUndo: brush.version > 1 || draft !== undefined,
    canRedo: draft === undefined && brush.version < newest,
  }
}
