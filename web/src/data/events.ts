import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { showWorkspace } from '../api/client.ts'
import { MAKES_OLD } from './keys.ts'

const TOPICS = Object.keys(MAKES_OLD) as (keyof typeof MAKES_OLD)[]
const REOPEN_MS = 3000
const GATHER_MS = 400 // many lines arrive at once while files are read

/** Follows the server's events for as long as the component is there, and refreshes what they make old. */
export function useServerEvents(): void {
  const client = useQueryClient()
  useEffect(() => {
    let source: EventSource
    let again: ReturnType<typeof setTimeout> | undefined
    const waiting = new Map<string, ReturnType<typeof setTimeout>>()
    const refresh = (topic: keyof typeof MAKES_OLD) => {
      if (waiting.has(topic)) return
      waiting.set(
        topic,
        setTimeout(() => {
          waiting.delete(topic)
          for (const key of MAKES_OLD[topic]) void client.invalidateQueries({ queryKey: [key] })
        }, GATHER_MS),
      )
    }
    // After a break nobody knows what was missed.
    let opened = false
    const open = () => {
      source = new EventSource('/api/workspace/events')
      for (const topic of TOPICS) source.addEventListener(topic, () => refresh(topic))
      source.addEventListener('hello', ({ data }: MessageEvent<string>) => {
        const { workspaceId } = JSON.parse(data) as { workspaceId?: string }
        if (workspaceId) showWorkspace(workspaceId)
        if (opened) for (const topic of TOPICS) refresh(topic)
        opened = true
      })
      // The browser tries again by itself after a break, but not after a refusal, as of a server that is stopping.
      source.addEventListener('error', () => {
        if (source.readyState !== EventSource.CLOSED) return
        again = setTimeout(open, REOPEN_MS)
        // perhaps one is signed in no more, or belongs here no more
        void client.invalidateQueries({ queryKey: ['session'] })
      })
    }
    open()
    return () => {
      clearTimeout(again)
      source.close()
      for (const timer of waiting.values()) clearTimeout(timer)
    }
  }, [client])
}
