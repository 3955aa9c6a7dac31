import { useEffect, useRef, useState } from 'react'

/** Keys that follow one another this closely are searched for together. */
const TYPING_MS = 10

/**
 * Typing searches by itself after a moment. The address follows late, since turning the page takes its time: what comes
 * back from there is only taken over where it was not typed here.
 */
export function SearchBox({ q, focus, onSearch }: { q: string; focus: boolean; onSearch: (q: string) => void }) {
  const [typed, setTyped] = useState(q)
  const box = useRef<HTMLInputElement>(null)
  const latest = useRef(q)
  /** What was asked for here and has not come back yet, oldest first. */
  const asked = useRef<string[]>([])
  useEffect(() => {
    const own = asked.current.indexOf(q)
    if (own >= 0) {
      asked.current.splice(0, own + 1)
      return
    }
    if (q === latest.current) return
    asked.current = []
    latest.current = q
    setTyped(q)
  }, [q])
  useEffect(() => {
    if (focus) box.current?.focus()
  }, [focus])
  useEffect(() => {
    const wanted = typed.trim()
    if (wanted === latest.current) return
    const timer = setTimeout(() => {
      latest.current = wanted
      asked.current.push(wanted)
      onSearch(wanted)
    }, TYPING_MS)
    return () => clearTimeout(timer)
  }, [typed, onSearch])
  return (
    <input
      ref={box}
      id="find-brushes"
      type="search"
      aria-label="Find brushes"
      placeholder="Find name, maker, tag"
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      // the cross beside the filters clears it along with them: one is enough
      className="w-full min-w-32 flex-1 rounded-4 border border-line bg-raised px-3 py-1.5 [&::-webkit-search-cancel-button]:hidden"
    />
  )
}
