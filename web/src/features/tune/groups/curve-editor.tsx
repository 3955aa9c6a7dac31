import type { Curve } from '@satchel/core/brush/recipe'
import { createCurve } from '@satchel/core/stroke/path/curve'
import { Plus, X } from 'lucide-react'
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { addPoint, movePoint, removePoint } from './curve-points.ts'

const [WIDTH, HEIGHT] = [280, 180]
const PAD = 12
const STEP = 0.02
const FAR = 0.1

type Props = {
  label: string
  /** What runs from left to right. */
  input: string
  points: Curve
  /** What the lowest and the highest outcome mean. */
  range: string
  onChange: (points: Curve) => void
}

const toX = (x: number) => PAD + x * (WIDTH - 2 * PAD)
const toY = (y: number) => HEIGHT - PAD - y * (HEIGHT - 2 * PAD)

/** The path of a curve in an SVG of any side. */
export function curvePath(points: Curve, x: (x: number) => number, y: (y: number) => number): string {
  const curve = createCurve(points)
  return Array.from(
    { length: 41 },
    (_, i) => `${i === 0 ? 'M' : 'L'}${x(i / 40).toFixed(1)} ${y(curve(i / 40)).toFixed(1)}`,
  ).join('')
}

/** A curve with points to drag, add and take away; every point can be moved by keys too. */
export function CurveEditor({ label, input, points, range, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const [chosen, setChosen] = useState(points.length - 1)
  const at = Math.min(chosen, points.length - 1)
  const dragged = useRef<number>(undefined)
  const toPoint = (event: PointerEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect()
    if (!box) return [0, 0]
    const x = ((event.clientX - box.left) / box.width) * WIDTH
    const y = ((event.clientY - box.top) / box.height) * HEIGHT
    return [(x - PAD) / (WIDTH - 2 * PAD), (HEIGHT - PAD - y) / (HEIGHT - 2 * PAD)]
  }
  const onKey = (event: KeyboardEvent, i: number) => {
    const [x, y] = points[i] ?? [0, 0]
    const step = event.shiftKey ? FAR : STEP
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    }
    const move = moves[event.key]
    if (move) onChange(movePoint(points, i, [x + move[0], y + move[1]]))
    else if (event.key === 'Delete' || event.key === 'Backspace') onChange(removePoint(points, i))
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const addInWidestGap = () => {
    const gaps = points
      .slice(1)
      .map(([x], i) => ({ width: x - (points[i]?.[0] ?? 0), middle: (x + (points[i]?.[0] ?? 0)) / 2 }))
    const widest = gaps.reduce((best, gap) => (gap.width > best.width ? gap : best), { width: 0, middle: 0.5 })
    const added = addPoint(points, [widest.middle, createCurve(points)(widest.middle)])
    onChange(added.points)
    if (added.at >= 0) setChosen(added.at)
  }
  return (
    <div className="grid gap-1.5">
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing with handles has no element of its own */}
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="group"
        aria-label={label}
        className="well w-full touch-none select-none"
        onPointerDown={(event) => {
          if (event.target !== event.currentTarget) return
          const added = addPoint(points, toPoint(event))
          if (added.at < 0) return
          event.currentTarget.setPointerCapture(event.pointerId)
          dragged.current = added.at
          setChosen(added.at)
          onChange(added.points)
        }}
        onPointerMove={(event) => {
          if (dragged.current !== undefined) onChange(movePoint(points, dragged.current, toPoint(event)))
        }}
        onPointerUp={() => (dragged.current = undefined)}
      >
        {[0.25, 0.5, 0.75].map((part) => (
          <g key={part} stroke="#d0d0d0" strokeWidth={1} pointerEvents="none">
            <line x1={toX(part)} x2={toX(part)} y1={toY(0)} y2={toY(1)} />
            <line x1={toX(0)} x2={toX(1)} y1={toY(part)} y2={toY(part)} />
          </g>
        ))}
        <path
          d={curvePath(points, toX, toY)}
          fill="none"
          stroke="#262626"
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          pointerEvents="none"
        />
        {points.map(([x, y], i) => (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: a point is its place among the others
            key={i}
            tabIndex={0}
            role="slider"
            aria-label={`Point ${i + 1} of ${points.length}`}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(y * 100)}
            aria-valuetext={`${input} ${Math.round(x * 100)} %, outcome ${Math.round(y * 100)} %`}
            cx={toX(x)}
            cy={toY(y)}
            r={i === at ? 7 : 5.5}
            fill={i === at ? '#9a4b22' : '#ffffff'}
            stroke="#9a4b22"
            strokeWidth={2}
            className="cursor-grab"
            onFocus={() => setChosen(i)}
            onKeyDown={(event) => onKey(event, i)}
            onPointerDown={(event) => {
              svg.current?.setPointerCapture(event.pointerId)
              dragged.current = i
              setChosen(i)
            }}
          />
        ))}
      </svg>
      <div className="flex justify-between text-12 text-quiet">
        <span>{input}: none</span>
        <span>full</span>
      </div>
      <p className="measure" role="status">
        {range}
      </p>
      <div className="flex gap-1.5">
        <Button className="text-13" onClick={addInWidestGap}>
          <Plus size={16} aria-hidden /> Add a point
        </Button>
        <Button
          className="text-13"
          disabled={at === 0 || at === points.length - 1}
          onClick={() => onChange(removePoint(points, at))}
        >
          <X size={16} aria-hidden /> Take it away
        </Button>
      </div>
    </div>
  )
}
