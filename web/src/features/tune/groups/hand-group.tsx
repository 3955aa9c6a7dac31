import { RECIPE_PARTS, usesGroup } from '@satchel/core/brush/parts'
import type { Curve, FrameRule, Recipe } from '@satchel/core/brush/recipe'
import { HAND_WORDS } from '@satchel/core/brush/recipe-words'
import { useState } from 'react'
import { Group } from '../../../components/controls.tsx'
import { CurveEditor, curvePath } from './curve-editor.tsx'
import { curveRange } from './curve-points.ts'
import { type GroupProps, round1 } from './group-props.ts'

type Source = keyof Recipe['hand']
type Part = keyof Recipe['hand']['pressure']

const SOURCES = (['pressure', 'tilt', 'speed'] as const).map((source) => ({
  source,
  label: RECIPE_PARTS.hand[source].label,
}))
const PARTS = (Object.keys(HAND_WORDS) as Part[]).map((part) => ({ part, label: HAND_WORDS[part] }))
const RISE: Curve = [[0, 0.1], [0.5, 0.55], [1, 1]] // biome-ignore format: points
/** Rules that ask a curve which frame comes next. */
const FOLLOWED: readonly FrameRule[] = ['pressure', 'speed', 'tiltX', 'tiltY']
const CELL = 28

/** What a curve's outcomes come to: px, degrees, percent or frames. */
export function describeRange(part: Part, points: Curve, recipe: Recipe, frames: number): string {
  const { from, to } = curveRange(points)
  switch (part) {
    case 'size':
      return `${round1(from * recipe.mark.sizePx)} px to ${round1(to * recipe.mark.sizePx)} px`
    case 'angle':
      return `turned by ${Math.round(from * 360)}° to ${Math.round(to * 360)}°`
    case 'frame': {
      const frameAt = (share: number) => Math.min(frames, Math.floor(share * frames) + 1)
      return `frame ${frameAt(from)} to ${frameAt(to)}`
    }
    case 'opacity':
    case 'flow':
      return `${Math.round(from * 100)} % to ${Math.round(to * 100)} %`
  }
}

/** Pressure, tilt and speed, each leading to what it changes by a curve. */
export function HandGroup({ recipe, onChange, frames }: GroupProps & { frames: number }) {
  const { hand } = recipe
  const first = SOURCES.flatMap(({ source }) => PARTS.map(({ part }) => ({ source, part }))).find(
    ({ source, part }) => hand[source][part],
  )
  const [open, setOpen] = useState<{ source: Source; part: Part } | undefined>(first)
  const set = (source: Source, part: Part, points: Curve | undefined) => {
    const { [part]: _old, ...others } = hand[source]
    onChange({ ...recipe, hand: { ...hand, [source]: points ? { ...others, [part]: points } : others } })
  }
  const points = open && hand[open.source][open.part]
  const word = (open && SOURCES.find(({ source }) => source === open.source)?.label) ?? ''
  const idle = (part: Part) => {
    if (part === 'frame' && !recipe.path.nextFrame.some(({ rule }) => FOLLOWED.includes(rule)))
      return 'Frames follow a curve once the next frame goes by pressure, speed or tilt.'
    if (part === 'angle' && recipe.path.ribbon) return 'A ribbon always lies along its path.'
    return undefined
  }
  return (
    <Group title="Hand" note="pressure, tilt, speed" inUse={usesGroup(recipe, 'hand')}>
      <table className="w-full text-12">
        <thead>
          <tr>
            <td />
            {PARTS.map(({ part, label }) => (
              <th key={part} scope="col" className="pb-1 font-medium text-quiet">
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {SOURCES.map(({ source, label }) => (
            <tr key={source}>
              <th scope="row" className="pr-1 text-left font-medium">
                {label}
              </th>
              {PARTS.map(({ part, label: partLabel }) => (
                <td key={part} className="p-0.5 text-center">
                  <Cell
                    label={`${label} to ${partLabel}`}
                    points={hand[source][part]}
                    isOpen={open?.source === source && open.part === part}
                    onOpen={() => {
                      setOpen({ source, part })
                      if (!hand[source][part]) set(source, part, RISE)
                    }}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {open && points ? (
        <>
          <CurveEditor
            key={`${open.source} ${open.part}`}
            label={`${word} to ${open.part}`}
            input={word}
            points={points}
            range={describeRange(open.part, points, recipe, frames)}
            onChange={(next) => set(open.source, open.part, next)}
          />
          {idle(open.part) && <p className="text-12 text-quiet">{idle(open.part)}</p>}
          <button
            type="button"
            className="justify-self-start text-13 text-saddle underline"
            onClick={() => set(open.source, open.part, undefined)}
          >
            Without this curve
          </button>
        </>
      ) : (
        <p className="text-12 text-quiet">Choose a field: what the hand does on the left changes what stands above.</p>
      )}
    </Group>
  )
}

function Cell({
  label,
  points,
  isOpen,
  onOpen,
}: {
  label: string
  points: Curve | undefined
  isOpen: boolean
  onOpen: () => void
}) {
  return (
    <button
      type="button"
      aria-label={points ? label : `${label}, not in use`}
      aria-pressed={isOpen}
      onClick={onOpen}
      className={`grid h-8 w-9 place-content-center rounded-4 border ${isOpen ? 'border-saddle bg-raised' : points ? 'border-line bg-raised' : 'border-dashed border-line'}`}
    >
      {points ? (
        <svg width={CELL} height={CELL - 4} aria-hidden>
          <path
            d={curvePath(
              points,
              (x) => 2 + x * (CELL - 4),
              (y) => CELL - 7 - y * (CELL - 10),
            )}
            fill="none"
            stroke="currentColor"
            strokeWidth={1.6}
          />
        </svg>
      ) : (
        <span className="text-quiet" aria-hidden>
          +
        </span>
      )}
    </button>
  )
}
