import { type RefObject, useEffect, useRef, useState } from 'react'
import { toast, toastError } from '../../../components/toasts.tsx'
import { loadPicture } from '../../../data/pictures.ts'
import type { Findings, Look } from '../../../workers/stroke/protocol.ts'
import { StrokeCanvas } from '../../../workers/stroke/stroke-canvas.ts'

export type Pictures = { frames: readonly { blobSha: string }[]; grainBlob: string | undefined }

export type InkedCanvas = {
  element: RefObject<HTMLCanvasElement | null>
  canvas: RefObject<StrokeCanvas | undefined>
  /** What was noticed when the strokes were last painted. */
  findings: Findings | undefined
  /** Whether there is anything on the canvas yet. */
  isPainted: boolean
  /** Counts up when pictures have arrived: previews are worth asking for again. */
  ready: number
  /** Looks for the bounds of a strip with the least break. */
  findJoin(onFound: (bounds: { leadInPx: number; leadOutPx: number }) => void): void
}

const keyOf = (pictures: Pictures) => pictures.frames.map((frame) => frame.blobSha).join()

/**
 * Connects a canvas with a stroke worker, and keeps it told about pictures and look.
 * @param before What the brush was made of before; undefined where that is not known, or nothing is compared.
 */
export function useStrokeCanvas({ frames, grainBlob }: Pictures, look: Look, before?: Pictures): InkedCanvas {
  const element = useRef<HTMLCanvasElement>(null)
  const canvas = useRef<StrokeCanvas>(undefined)
  const [findings, setFindings] = useState<Findings>()
  const [ready, setReady] = useState(0)
  const [isPainted, setPainted] = useState(false)
  useEffect(() => {
    if (!element.current) return
    const made = new StrokeCanvas(element.current, {
      onProblem: (message) => toast(message, { tone: 'bad' }),
      onFindings: setFindings,
      onFirstPicture: () => setPainted(true),
    })
    canvas.current = made
    return () => made.close()
  }, [])
  const key = keyOf({ frames, grainBlob })
  useEffect(() => {
    let gone = false
    canvas.current?.want('tip', key)
    Promise.all(key.split(',').map(loadPicture))
      .then((pngs) => {
        if (gone) return
        canvas.current?.tell('tip', key, pngs, pngs)
        setReady((n) => n + 1)
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [key])
  useEffect(() => {
    let gone = false
    canvas.current?.want('grain', grainBlob ?? '')
    const load = grainBlob === undefined ? Promise.resolve(undefined) : loadPicture(grainBlob)
    load
      .then((png) => {
        if (gone) return
        canvas.current?.tell('grain', grainBlob ?? '', png, png ? [png] : [])
        setReady((n) => n + 1)
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [grainBlob])
  const keyBefore = before && keyOf(before)
  const grainBefore = before?.grainBlob
  const differs = before !== undefined && (keyBefore !== key || grainBefore !== grainBlob)
  useEffect(() => {
    if (!differs || keyBefore === undefined) {
      canvas.current?.tell('before', '', undefined)
      return
    }
    let gone = false
    const text = `${keyBefore} ${grainBefore ?? ''}`
    canvas.current?.want('before', text)
    Promise.all([Promise.all(keyBefore.split(',').map(loadPicture)), grainBefore && loadPicture(grainBefore)])
      .then(([pngs, grain]) => {
        if (gone) return
        const pictures = { frames: pngs, grain: grain || undefined }
        canvas.current?.tell('before', text, pictures, [...pngs, ...(grain ? [grain] : [])])
      })
      .catch(toastError)
    return () => {
      gone = true
    }
  }, [differs, keyBefore, grainBefore])
  const { recipe, before: recipeBefore, show, splitAt, colour, backdrop, strokes } = look
  useEffect(() => {
    canvas.current?.tellLook({ recipe, before: recipeBefore, show, splitAt, colour, backdrop, strokes })
  }, [recipe, recipeBefore, show, splitAt, colour, backdrop, strokes])
  return {
    element,
    canvas,
    findings,
    isPainted,
    ready,
    findJoin(onFound) {
      canvas.current?.findJoin().then((join) => join && onFound(join), toastError)
    },
  }
}
