import type { Tones } from '@satchel/core/make/steps/tones'
import { type KeyboardEvent, type PointerEvent, Suspense, useMemo, useRef } from 'react'
import { LevelsChart } from '../../../components/charts/charts.tsx'

type Props = { counts: Uint32Array; tones: Tones; onChange: (tones: Tones) => void }

const POINTS = ['black', 'white'] as const
type PointName = (typeof POINTS)[number]
const POINT_WORDS: Record<PointName, string> = { black: 'Black point', white: 'White point' }
const STEP: Record<string, number> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageDown: -10,
  PageUp: 10,
}

/** How often each grey occurs before the tones are set; black and white point are dragged on it, or moved by keys. */
export function Histogram({ counts, tones, onChange }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const held = useRef<PointName>(undefined)
  // the few greys of an even ground would press all others flat
  const sorted = [...counts].sort((a, b) => b - a)
  const top = Math.max(1, sorted[6] ?? 1)
  const heights = useMemo(() => [...counts].map((count) => Math.min(1, Math.sqrt(count / top))), [counts, top])
  const move = (name: PointName, level: number) => {
    const whole = Math.round(Math.min(255, Math.max(0, level)))
    if (name === 'black' ? whole < tones.white : whole > tones.black) onChange({ ...tones, [name]: whole })
  }
  const drag = (event: PointerEvent) => {
    const area = box.current?.getBoundingClientRect()
    if (held.current && area) move(held.current, ((event.clientX - area.left) / area.width) * 255)
  }
  const keys = (name: PointName) => (event: KeyboardEvent) => {
    const step = STEP[event.key]
    if (step === undefined) return
    event.preventDefault()
    move(name, tones[name] + step)
  }
  return (
    <figure>
      <div ref={box} className="relative touch-none">
        <div className="well h-20 w-full overflow-clip" role="img" aria-label="Greys of the picture">
          <Suspense>
            <LevelsChart heights={heights} />
          </Suspense>
        </div>
        {POINTS.map((name) => (
          <div
            key={name}
            role="slider"
            tabIndex={0}
            aria-label={POINT_WORDS[name]}
            aria-valuemin={0}
            aria-valuemax={255}
            aria-valuenow={tones[name]}
            onKeyDown={keys(name)}
            onPointerDown={(event) => {
              held.current = name
              event.currentTarget.setPointerCapture(event.pointerId)
            }}
            onPointerMove={drag}
            onPointerUp={() => {
              held.current = undefined
            }}
            className="absolute inset-y-0 w-4 -translate-x-1/2 cursor-ew-resize touch-none"
            style={{ left: `${(tones[name] / 255) * 100}%` }}
          >
            <span
              className={`mx-auto block h-full w-0.5 ${name === 'black' ? 'bg-[#181818]' : 'bg-saddle'}`}
              aria-hidden
            />
          </div>
        ))}
      </div>
      <figcaption className="mt-1 flex justify-between text-12 text-quiet">
        <span>paints fully</span>
        <span>ground</span>
      </figcaption>
    </figure>
  )
}
