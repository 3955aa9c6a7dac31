import type { Recipe } from '@satchel/core/brush/recipe'
import type { Touch } from '@satchel/core/make/steps/grey'
import { type Plan, WAYS } from '@satchel/core/make/ways'
import { useCallback, useEffect, useRef, useState } from 'react'
import { toast, toastError } from '../../components/toasts.tsx'
import { fileAddress, loadPng, previewAddress, type Source } from '../../data/sources.ts'
import { type Found, MakeBench } from '../../workers/make/make-bench.ts'
import type { MakeShown } from '../../workers/make/protocol.ts'

const STAMP = { width: 168, height: 168 }
const STROKE = { width: 900, height: 168 }

type Wish = { plan: Plan; recipe: Recipe | undefined; grainBlob: string | undefined; whole: boolean; part: number }

/** Runs a source's plan over its preview, and gives the latest that was shown. */
export function useBench(source: Source, { plan, recipe, grainBlob, whole, part }: Wish) {
  const bench = useRef<MakeBench>(undefined)
  const [shown, setShown] = useState<MakeShown>()
  const [problem, setProblem] = useState<Error>()
  const [opened, setOpened] = useState(0)
  const { file } = source
  const address = WAYS[plan.way].beginsWith === 'inside' ? fileAddress(source) : previewAddress(source, 1600)
  useEffect(() => {
    const made = new MakeBench({
      onShown: (next) => {
        setProblem(undefined)
        setShown(next)
      },
      onProblem: (message) => toast(message, { tone: 'bad' }),
    })
    bench.current = made
    return () => made.close()
  }, [])
  const open = useCallback(() => {
    let gone = false
    loadPng(address)
      .then((png) => {
        if (gone) return
        setProblem(undefined)
        bench.current?.open(png, file.width)
        setOpened((n) => n + 1)
      })
      .catch((error: Error) => {
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
        bench.current?.setGrain(png)
        setOpened((n) => n + (png ? 1 : 0))
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [grainBlob])
  useEffect(() => {
    if (opened > 0) bench.current?.show({ plan, recipe, whole, part, stamp: STAMP, stroke: STROKE })
  }, [opened, plan, recipe, whole, part])
  const mix = useCallback(
    (touches: Touch[]): Promise<Found> =>
      bench.current?.mix(plan, touches) ?? Promise.reject(new Error('the bench is not open')),
    [plan],
  )
  const outline = (): Promise<string> =>
    bench.current?.outline(plan) ?? Promise.reject(new Error('the bench is not open'))
  return { shown, problem, openAgain: open, mix, outline }
}
