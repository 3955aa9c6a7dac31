import { RING_POINTS } from '@satchel/core/make/steps/grey'
import type { KeyboardEvent, PointerEvent } from 'react'

const MIDDLE = 50
const INNER = 12
const OUTER = 46
const HUES = ['red', 'amber', 'yellow-green', 'green', 'blue-green', 'blue', 'violet', 'rose'] as const

const radiusOf = (amount: number) => INNER + ((amount + 1) / 2) * (OUTER - INNER)
const angleOf = (i: number) => (i / RING_POINTS) * 2 * Math.PI - Math.PI / 2

/** How strongly each hue paints: the further a point lies from the middle, the more. */
export function HueRing({ ring, onChange }: { ring: readonly number[]; onChange: (ring: number[]) => void }) {
  const set = (i: number, amount: number) => {
    const rounded = Math.round(Math.min(1, Math.max(-1, amount)) * 20) / 20
    onChange(ring.map((each, k) => (k === i ? rounded : each)))
  }
  const drag = (i: number) => (event: PointerEvent<SVGCircleElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
    if (!box) return
    const x = ((event.clientX - box.left) / box.width) * 100 - MIDDLE
    const y = ((event.clientY - box.top) / box.height) * 100 - MIDDLE
    const along = x * Math.cos(angleOf(i)) + y * Math.sin(angleOf(i))
    set(i, ((along - INNER) / (OUTER - INNER)) * 2 - 1)
  }
  const keys = (i: number, amount: number) => (event: KeyboardEvent) => {
    const step = { ArrowUp: 0.05, ArrowRight: 0.05, ArrowDown: -0.05, ArrowLeft: -0.05 }[event.key]
    if (step === undefined) return
    event.preventDefault()
    set(i, amount + step)
  }
  const points = ring.map((amount, i) => ({
    amount,
    x: MIDDLE + radiusOf(amount) * Math.cos(angleOf(i)),
    y: MIDDLE + radiusOf(amount) * Math.sin(angleOf(i)),
  }))
  return (
    <fieldset aria-label="How strongly each hue paints">
      <svg viewBox="0 0 100 100" className="mx-auto block w-44 max-w-full touch-none">
        <title>Ring of hues</title>
        {HUES.map((hue, i) => (
          <circle
            key={hue}
            cx={MIDDLE + 48 * Math.cos(angleOf(i))}
            cy={MIDDLE + 48 * Math.sin(angleOf(i))}
            r={2}
            fill={`hsl(${(i / RING_POINTS) * 360} 75% 48%)`}
          />
        ))}
        <circle cx={MIDDLE} cy={MIDDLE} r={radiusOf(0)} fill="none" stroke="var(--line)" strokeDasharray="2 2" />
        <polygon
          points={points.map(({ x, y }) => `${x},${y}`).join(' ')}
          fill="var(--saddle)"
          fillOpacity={0.12}
          stroke="var(--saddle)"
          strokeWidth={0.8}
        />
        {points.map(({ amount, x, y }, i) => (
          <circle
            key={HUES[i]}
            role="slider"
            tabIndex={0}
            aria-label={`How strongly ${HUES[i]} paints`}
            aria-valuemin={-100}
            aria-valuemax={100}
            aria-valuenow={Math.round(amount * 100)}
            aria-valuetext={
              amount === 0 ? 'as it is' : `${Math.abs(Math.round(amount * 100))} % ${amount > 0 ? 'more' : 'less'}`
            }
            cx={x}
            cy={y}
            r={3.4}
            fill={`hsl(${(i / RING_POINTS) * 360} 75% 48%)`}
            stroke="var(--ink)"
            strokeWidth={0.8}
            className="cursor-grab"
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={drag(i)}
            onKeyDown={keys(i, amount)}
          />
        ))}
      </svg>
    </fieldset>
  )
}
