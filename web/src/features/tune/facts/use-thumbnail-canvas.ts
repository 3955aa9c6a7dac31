import type { Thumbnail } from '@satchel/core/brush/thumbnail'
import { type RefObject, useEffect, useRef, useState } from 'react'
import { drawRegion, drawWords, isBlankCanvas, loadLetters, type Region } from './thumbnail-picture.ts'

type Drawn = {
  from: Thumbnail['from']
  text: string
  region: Region | undefined
  picture: RefObject<HTMLImageElement | null>
}

/** A canvas with the region or the words as a thumbnail, and whether nothing of it can be seen. */
export function useThumbnailCanvas({ from, text, region, picture }: Drawn) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const [isBlank, setBlank] = useState(true)
  useEffect(() => {
    let gone = false
    const paint = () => {
      if (gone || !canvas.current) return
      if (from === 'region' && picture.current && region) drawRegion(canvas.current, picture.current, region)
      if (from === 'text') drawWords(canvas.current, text)
      setBlank(isBlankCanvas(canvas.current))
    }
    paint()
    if (from === 'text') void loadLetters().then(paint)
    return () => {
      gone = true
    }
  }, [from, text, region, picture])
  return { canvas, isBlank }
}
