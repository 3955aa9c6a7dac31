import type { Recipe } from '@satchel/core/brush/recipe'
import { USUAL_TRACE } from '@satchel/core/trace/trace'
import { useEffect, useRef, useState } from 'react'
import { loadPicture } from '../../data/pictures.ts'
import type { Shown } from '../../workers/shown.ts'
import type {
  FittedTrace,
  LayWish,
  Opened,
  OutlineWish,
  Swept,
  TracedWish,
  TraceSource,
} from '../../workers/trace/protocol.ts'
import { openTraceBench } from '../../workers/trace/trace-bench.ts'

export const USUAL_OUTLINE: OutlineWish = {
  speckPx: USUAL_TRACE.speckPx,
  tones: USUAL_TRACE.tones,
  cornerDeg: USUAL_TRACE.cornerDeg,
}
const PREVIEW_PX = { width: 560, height: 150 }

/** What of a brush is traced. */
type TracedBrush = {
  recipe: Recipe
  pictures: readonly { blobSha: string }[]
  grain: { blobSha: string } | null
}

type Tracing = {
  opened: Opened | undefined
  swept: Swept | undefined
  fitted: FittedTrace | undefined
  preview: Shown | undefined
  /** Why it does not go on. */
  problem: string
  /** The drawing as a file. */
  write(lay: LayWish): Promise<string>
}

/** Traces a picture of a brush in a worker; every answer is of what was wanted last. */
export function useTrace(
  brush: TracedBrush,
  { source, frame }: { source: TraceSource; frame: number },
  { tolerancePx, removed, speckPx, tones, cornerDeg }: TracedWish,
  lay: LayWish,
): Tracing {
  const bench = useRef<ReturnType<typeof openTraceBench>>(undefined)
  const [opened, setOpened] = useState<Opened>()
  const [swept, setSwept] = useState<Swept>()
  const [fitted, setFitted] = useState<FittedTrace>()
  const [preview, setPreview] = useState<Shown>()
  const [problem, setProblem] = useState('')
  useEffect(() => {
    const made = openTraceBench()
    bench.current = made
    return () => made.close()
  }, [])
  /** What an effect has asked for counts only as long as nothing else is wanted. */
  const ask = <Answer>(asking: Promise<Answer> | undefined, take: (answer: Answer) => void) => {
    let isOld = false
    asking?.then(
      (answer) => {
        if (!isOld) take(answer)
      },
      (error: Error) => {
        if (!isOld) setProblem(error.message)
      },
    )
    return () => {
      isOld = true
    }
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked for follows from these alone
  useEffect(() => {
    setProblem('')
    setSwept(undefined)
    setFitted(undefined)
    setOpened(undefined)
    const { pictures, grain, recipe } = brush
    const load = async () => {
      const frames = await Promise.all(pictures.map(({ blobSha }) => loadPicture(blobSha)))
      return { frames, grain: grain ? await loadPicture(grain.blobSha) : undefined }
    }
    return ask(
      load().then((files) => bench.current?.ask('open', { ...files, recipe, source, frame })),
      setOpened,
    )
  }, [brush, source, frame])
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked for follows from these alone
  useEffect(
    () => ask(opened && bench.current?.ask('sweep', { speckPx, tones, cornerDeg }), setSwept),
    [opened, speckPx, tones, cornerDeg],
  )
  const wish: TracedWish = { tolerancePx, removed, speckPx, tones, cornerDeg }
  const wanted = JSON.stringify([wish, lay])
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked for follows from these alone
  useEffect(() => ask(opened && bench.current?.ask('fit', wish), setFitted), [opened, JSON.stringify(wish)])
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked for follows from these alone
  useEffect(
    () => ask(opened && bench.current?.ask('preview', { ...wish, ...PREVIEW_PX, lay }), setPreview),
    [opened, wanted],
  )
  return {
    opened,
    swept,
    fitted,
    preview,
    problem,
    async write(own) {
      if (!bench.current) throw new Error('nothing is traced yet')
      return bench.current.ask('write', { ...wish, lay: own })
    },
  }
}
