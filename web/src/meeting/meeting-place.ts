import { useEffect } from 'react'
import { create } from 'zustand'
import type { Meeting } from '../data/presence.ts'

/** What this window has open that others may have open too. */
export const useMeetingPlace = create<{ at: Meeting | undefined }>(() => ({ at: undefined }))

/** Says that a page is about a brush, a set or a pack for as long as it is shown; the band tells who else is there. */
export function MeetAt({ kind, id }: Meeting): null {
  useEffect(() => {
    const at = { kind, id }
    useMeetingPlace.setState({ at })
    return () => useMeetingPlace.setState((now) => (now.at === at ? { at: undefined } : now))
  }, [kind, id])
  return null
}
