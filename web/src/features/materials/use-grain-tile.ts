import { useEffect, useRef, useState } from 'react'
import { openGrainBench } from '../../workers/grain/grain-bench.ts'
import type { GrainTile, GrainWish } from '../../workers/grain/protocol.ts'

/** The tile that follows from a wish; while another is made, the last one stays. */
export function useGrainTile(wish: GrainWish | undefined): { tile: GrainTile | undefined; error: Error | undefined } {
  const bench = useRef<ReturnType<typeof openGrainBench>>(undefined)
  const [tile, setTile] = useState<GrainTile>()
  const [error, setError] = useState<Error>()
  useEffect(() => {
    const made = openGrainBench()
    bench.current = made
    return () => made.close()
  }, [])
  useEffect(() => {
    if (!wish) return
    let gone = false
    bench.current
      ?.ask('tile', wish)
      .then((next) => {
        if (gone) return
        setError(undefined)
        setTile(next)
      })
      .catch((problem: Error) => {
        if (!gone) setError(problem)
      })
    return () => {
      gone = true
    }
  }, [wish])
  return { tile, error }
}
