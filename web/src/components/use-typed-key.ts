import { useEffect, useRef } from 'react'

/** Where a typed character is text and no command. */
const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target.matches('input:not([type=checkbox], [type=radio], [type=range]), textarea, select'))

/**
 * A command for a character, whatever keys it takes: "/" and "?" lie behind Shift or elsewhere on many keyboards, and
 * names of keys would miss them.
 */
export function useTypedKey(character: string, run: () => void): void {
  const latest = useRef(run)
  latest.current = run
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== character || event.ctrlKey || event.metaKey || isTyping(event.target)) return
      event.preventDefault()
      latest.current()
    }
    document.addEventListener('keydown', onKeyDown)
    return () => document.removeEventListener('keydown', onKeyDown)
  }, [character])
}
