import { type KeyboardEvent, type RefObject, useState } from 'react'

/** What a pointer and the keys have in common: a place on the page. */
export type PenEvent = { clientX: number; clientY: number; pressure: number }

type Options = {
  /** What is drawn on; its box is where the cross may go. */
  area: RefObject<SVGSVGElement | null>
  /** Whether the pen stays down, to draw lines; otherwise each press of Space is one touch. */
  draws: boolean
  onDown: (event: PenEvent) => void
  onMove: (event: PenEvent) => void
  onUp: () => void
  /** What was begun is not wanted. */
  onCancel: () => void
}

const STEP = 0.02
const FINE_STEP = 0.002
const ARROWS: Readonly<Record<string, [dx: number, dy: number]>> = {
  ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1],
} // biome-ignore format: a table

/** What to say of an area that can be drawn on by keys. */
export const KEY_PEN_HELP =
  'Arrows move the cross, with Shift finely; Space sets it down and lifts it, Backspace gives the line up.'

/**
 * Draws by keys what a pointer draws: arrows move a cross, Space sets it down and lifts it, Backspace gives up what
 * was begun. `at` is where the cross is, as shares of the area; undefined until a key moves it.
 */
export function useKeyPen({ area, draws, onDown, onMove, onUp, onCancel }: Options) {
  const [at, setAt] = useState<{ x: number; y: number }>()
  const [isDown, setDown] = useState(false)
  const eventAt = ({ x, y }: { x: number; y: number }): PenEvent => {
    const box = area.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1)
    return { clientX: box.left + x * box.width, clientY: box.top + y * box.height, pressure: 0.5 }
  }
  const giveUp = () => {
    if (isDown) onCancel()
    setDown(false)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const from = at ?? { x: 0.5, y: 0.5 }
    const arrow = ARROWS[event.key]
    if (arrow) {
      event.preventDefault()
      const step = event.shiftKey ? FINE_STEP : STEP
      const to = { x: within(from.x + step * arrow[0]), y: within(from.y + step * arrow[1]) }
      setAt(to)
      if (isDown) onMove(eventAt(to))
    } else if (event.key === ' ') {
      event.preventDefault()
      setAt(from)
      if (!isDown) onDown(eventAt(from))
      if (isDown || !draws) onUp()
      setDown(draws && !isDown)
    } else if (event.key === 'Backspace' && isDown) {
      // not Escape, which would close a dialog around it
      event.preventDefault()
      giveUp()
    }
  }
  const onBlur = () => {
    giveUp()
    setAt(undefined)
  }
  return { at, isDown, keys: { tabIndex: 0, onKeyDown, onBlur } }
}

const within = (share: number) => Math.min(1, Math.max(0, share))

/** The cross of the keys, on an area that is so wide and high in its own units. */
export function KeyCross({
  at,
  isDown,
  width,
  height,
}: {
  at: { x: number; y: number } | undefined
  isDown: boolean
  width: number
  height: number
}) {
  if (!at) return null
  const arm = Math.max(width, height) / 40
  const d = `M${at.x * width - arm} ${at.y * height}h${2 * arm}M${at.x * width} ${at.y * height - arm}v${2 * arm}`
  return (
    <g fill="none" pointerEvents="none" data-testid="key-cross">
      <path d={d} stroke="#f7f7f7" strokeWidth={arm / 3} />
      <path d={d} stroke={isDown ? 'var(--saddle)' : '#181818'} strokeWidth={arm / 8} />
    </g>
  )
}
