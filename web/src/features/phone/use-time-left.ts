import { useEffect, useState } from 'react'

/** Milliseconds until a moment, anew every second; 0 once it has passed. */
export function useTimeLeft(endsAt: string | undefined): number {
  const [now, setNow] = useState(Date.now)
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  return endsAt === undefined ? 0 : Math.max(0, Date.parse(endsAt) - now)
}

/** Minutes and seconds: "9:05". */
export function formatClock(ms: number): string {
  const seconds = Math.ceil(ms / 1000)
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}
