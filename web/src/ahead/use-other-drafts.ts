import { useEffect, useRef, useState } from 'react'
import * as v from 'valibot'

const CHANNEL = 'satchel-drafts'
const Told = v.variant('kind', [
  /** A page asks who has changes of something that are not saved. */
  v.object({ kind: v.literal('ask'), key: v.string() }),
  v.object({ kind: v.literal('tell'), key: v.string(), page: v.string(), isUnsaved: v.boolean() }),
])

let pages = 0
/** Unlike for any two pages of a browser; without a secure context nothing makes a better one. */
const nameOfPage = () => `${Date.now()}-${Math.random()}-${++pages}`

/**
 * Tells the other pages of this browser whether this one has changes of something that it could not save, and hears it of
 * them. What was saved they hear from the server.
 * @returns Whether another page has such changes.
 */
export function useOtherDrafts(key: string, isUnsaved: boolean): boolean {
  const [unsavedElsewhere, setUnsavedElsewhere] = useState<ReadonlySet<string>>(new Set())
  const now = useRef(isUnsaved)
  const tell = useRef<(isUnsaved: boolean) => void>(undefined)
  useEffect(() => {
    const page = nameOfPage()
    const channel = new BroadcastChannel(CHANNEL)
    tell.current = (isUnsaved) => channel.postMessage({ kind: 'tell', key, page, isUnsaved })
    const onLeave = () => tell.current?.(false)
    channel.onmessage = ({ data }) => {
      const told = v.safeParse(Told, data)
      if (!told.success || told.output.key !== key) return
      const { output } = told
      if (output.kind === 'ask') return tell.current?.(now.current)
      setUnsavedElsewhere((before) => {
        const others = new Set(before)
        if (output.isUnsaved) others.add(output.page)
        else others.delete(output.page)
        return others
      })
    }
    channel.postMessage({ kind: 'ask', key })
    window.addEventListener('pagehide', onLeave)
    return () => {
      onLeave()
      window.removeEventListener('pagehide', onLeave)
      channel.close()
      setUnsavedElsewhere(new Set())
    }
  }, [key])
  useEffect(() => {
    now.current = isUnsaved
    tell.current?.(isUnsaved)
  }, [isUnsaved])
  return unsavedElsewhere.size > 0
}
