import { type ComponentPropsWithoutRef, useEffect, useRef } from 'react'
import { PictureQueue } from './picture-queue.ts'

/**
 * Browsers open six connections to a server, one of which listens for what changes. Pictures of a list take so many, so
 * that what is typed meanwhile is asked for at once; the server paints no more at once either.
 */
const queue = new PictureQueue(3)

type Props = Omit<ComponentPropsWithoutRef<'img'>, 'src' | 'loading' | 'alt'> & { src: string }

/** A picture beside its name in a list, fetched in its turn; one that leaves the page before is not fetched. */
export function QueuedPicture({ src, ...rest }: Props) {
  const image = useRef<HTMLImageElement>(null)
  useEffect(() => {
    const element = image.current
    if (!element) return
    const leave = queue.enter(() => {
      element.src = src
    })
    element.addEventListener('load', leave)
    element.addEventListener('error', leave)
    return () => {
      element.removeEventListener('load', leave)
      element.removeEventListener('error', leave)
      leave()
    }
  }, [src])
  useEffect(() => {
    const element = image.current
    // what is on its way for nobody would keep its connection until it is collected
    return () => {
      if (element && !element.complete) element.removeAttribute('src')
    }
  }, [])
  return <img ref={image} alt="" decoding="async" {...rest} />
}
