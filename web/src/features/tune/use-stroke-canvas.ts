import { type RefObject, useEffect, useRef, useState } from 'react'
import { toast, toastError } from '../../components/toasts.tsx'
import type { Findings, Look } from '../../workers/protocol.ts'
import { StrokeCanvas } from '../../workers/stroke-canvas.ts'
import { loadPicture } from './queries.ts'

type Pictures = { frames: readonly { blobSha: string }[]; grainBlob: string | undefined }

export type InkedCanvas = {
  element: RefObject<HTMLCanvasElement | null>
  canvas: RefObject<StrokeCanvas | undefined>
  /** What was noticed when the strokes were last painted. */
  findings: Findings | undefined
  /** Counts up when pictures have arrived: previews are worth asking for again. */
  ready: number
  /** Looks for the bounds of a strip with the least break. */
  findJoin(onFound: (bounds: { leadInPx: number; leadOutPx: number }) => void): void
}

/** Connects a canvas with a stroke worker, and keeps it told about pictures and look. */
export function useStrokeCanvas({ frames, grainBlob }: Pictures, look: Look): InkedCanvas {
  const element = useRef<HTMLCanvasElement>(null)
  const canvas = useRef<StrokeCanvas>(undefined)
  const onJoin = useRef<(bounds: { leadInPx: number; leadOutPx: number }) => void>(undefined)
  const [findings, setFindings] = useState<Findings>()
  const [ready, setReady] = useState(0)
  useEffect(() => {
    if (!element.current) return
    const made = new StrokeCanvas(element.current, {
      onProblem: (message) => toast(message, { tone: 'bad' }),
      onFindings: setFindings,
      onJoin: ({ leadInPx, leadOutPx }) => onJoin.current?.({ leadInPx, leadOutPx }),
    })
    canvas.current = made
    return () => made.close()
  }, [])
  const key = frames.map((frame) => frame.blobSha).join()
  useEffect(() => {
    let gone = false
    Promise.all(key.split(',').map(loadPicture))
      .then((pngs) => {
        if (gone) return
        canvas.current?.post({ type: 'tip', frames: pngs }, pngs)
        setReady((n) => n + 1)
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [key])
  useEffect(() => {
    let gone = false
    const load = grainBlob === undefined ? Promise.resolve(undefined) : loadPicture(grainBlob)
    load
      .then((png) => {
        if (gone) return
        canvas.current?.post({ type: 'grain', png }, png ? [png] : [])
        setReady((n) => n + 1)
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [grainBlob])
  const { recipe, before, show, splitAt, colour, ground, strokes } = look
  useEffect(() => {
    canvas.current?.post({ type: 'look', recipe, before, show, splitAt, colour, ground, strokes })
  }, [recipe, before, show, splitAt, colour, ground, strokes])
  return {
    element,
    canvas,
    findings,
    ready,
    findJoin: (onFound) => {
      onJoin.current = onFound
      canvas.current?.post({ type: 'findJoin' })
    },
  }
}
