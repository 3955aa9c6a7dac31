import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'

/** Which cached answers each kind of event makes old. */
const STALE: Record<string, readonly string[]> = {
  job: ['jobs'],
  gather: ['gather', 'tally'],
  library: ['brushes', 'brush', 'sets', 'tally', 'facets', 'materials', 'pockets'],
  pockets: ['pockets'],
  packs: ['packs', 'pack', 'tally'],
}
const GATHER_MS = 400 // many lines arrive at once while files are read

/** Follows the server's events for as long as the component is there, and refreshes what they make old. */
export function useServerEvents(): void {
  const client = useQueryClient()
  useEffect(() => {
    const source = new EventSource('/api/workspace/events')
    const waiting = new Map<string, ReturnType<typeof setTimeout>>()
    const refresh = (topic: string) => {
      if (waiting.has(topic)) return
      waiting.set(
        topic,
        setTimeout(() => {
          waiting.delete(topic)
          for (const key of STALE[topic] ?? []) void client.invalidateQueries({ queryKey: [key] })
        }, GATHER_MS),
      )
    }
    for (const topic of Object.keys(STALE)) source.addEventListener(topic, () => refresh(topic))
    // After a break nobody knows what was missed.
    let opened = false
    source.addEventListener('hello', () => {
      if (opened) for (const topic of Object.keys(STALE)) refresh(topic)
      opened = true
    })
    return () => {
      source.close()
      for (const timer of waiting.values()) clearTimeout(timer)
    }
  }, [client])
}
