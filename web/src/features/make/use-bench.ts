import type { Recipe } from '@satchel/core/brush/recipe'
import type { Touch } from '@satchel/core/make/steps/grey'
import { type Plan, WAYS } from '@satchel/core/make/ways'
import { useCallback, useEffect, useRef, useState } from 'react'
import { toastError } from '../../components/toasts.tsx'
import { fileAddress, loadPng, previewAddress, type Source } from '../../data/sources.ts'
import { openMakeBench } from '../../workers/make/make-bench.ts'
import type { Found, MakeShown } from '../../workers/make/protocol.ts'

const STAMP = { width: 168, height: 168 }
const STROKE = { width: 900, height: 168 }

type Wish = { plan: Plan; recipe: Recipe | undefined; grainBlob: string | undefined; whole: boolean; part: number }

type Bench = ReturnType<typeof openMakeBench>

/** Runs a source's plan over its preview, and gives the latest that was shown. */
export function useBench(source: Source, { plan, recipe, grainBlob, whole, part }: Wish) {
  const bench = useRef<Bench>(undefined)
  const [shown, setShown] = useState<MakeShown>()
  const [problem, setProblem] = useState<Error>()
  const [opened, setOpened] = useState(0)
  const { file } = source
  const address = WAYS[plan.way].beginsWith === 'inside' ? fileAddress(source) : previewAddress(source, 1600)
  useEffect(() => {
    const made = openMakeBench()
    bench.current = made
    return () => made.close()
  }, [])
  const open = useCallback(() => {
    let gone = false
    const load = async () => {
      const bytes = await loadPng(address)
      if (gone) return
      setProblem(undefined)
      await bench.current?.ask('open', { bytes, sourceWidth: file.width }, [bytes])
      if (!gone) setOpened((n) => n + 1)
    }
    load().catch((error: Error) => {
      if (!gone) setProblem(error)
    })
    return () => {
      gone = true
    }
  }, [address, file.width])
  useEffect(() => open(), [open])
  useEffect(() => {
    let gone = false
    const load = grainBlob === undefined ? Promise.resolve(undefined) : loadPng(`/api/pictures/${grainBlob}`)
    load
      .then((png) => {
        if (gone) return
        setOpened((n) => n + (png ? 1 : 0))
        return bench.current?.ask('grain', { png }, png ? [png] : [])
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [grainBlob])
  useEffect(() => {
    if (opened === 0) return
    let gone = false
    bench.current?.ask('show', { plan, recipe, whole, part, stamp: STAMP, stroke: STROKE }).then((next) => {
      // an answer to what is asked no longer would only flicker
      if (gone || !next) return
      setProblem(undefined)
      setShown(next)
    }, toastError)
    return () => {
      gone = true
    }
  }, [opened, plan, recipe, whole, part])
  const mix = useCallback(
    async (touches: Touch[]): Promise<Found> => openBench(bench).ask('mix', { plan, touches }),
    [plan],
  )
  const outline = async (): Promise<string> => openBench(bench).ask('outline', { plan })
  return { shown, problem, openAgain: open, mix, outline }
}

function openBench({ current }: { current: Bench | undefined }): Bench {
  if (!current) throw new Error('the bench is not open')
  return current
}
