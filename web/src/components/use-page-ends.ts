import type { Virtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef } from 'react'

/** What has ends of its own to go to by these keys: text, sliders, and lists that are walked by arrows. */
const HAS_ENDS =
  'input, textarea, select, [role=slider], [role=listbox], [role=menu], [role=tablist], [role=radiogroup], [role=dialog]'

/**
 * Home and End on a page whose lines are measured as they come into view. The browser's own way glides through all
 * lines, each is measured as it passes, and the first one that is of another height than thought ends the glide in
 * the middle; here the page is set where the line is, again until that is where it stays.
 */
export function usePageEnds(lines: Virtualizer<Window, Element>, count: number): void {
  const latest = useRef({ lines, count })
  latest.current = { lines, count }
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const { key, target } = event
      if ((key !== 'Home' && key !== 'End') || event.defaultPrevented || event.ctrlKey || event.metaKey) return
      if (event.shiftKey || event.altKey || !(target instanceof HTMLElement)) return
      if (target.isContentEditable || target.closest(HAS_ENDS)) return
      event.preventDefault()
      const { lines, count } = latest.current
      if (key === 'Home') lines.scrollToOffset(0)
      // Its top, which the page can't reach: so as far as the page goes, with what lies below the list.
      else if (count > 0) lines.scrollToIndex(count - 1, { align: 'start' })
    }
    document.addEventListener('keydown', onKeyDown)
    return () => document.removeEventListener('keydown', onKeyDown)
  }, [])
}
