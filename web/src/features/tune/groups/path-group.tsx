import { COUNT_MAX, defaultRecipe, type FrameRule, SPACING_MAX_PCT } from '@satchel/core/brush/recipe'
import type { Findings } from '../../../workers/protocol.ts'
import { Choices, Group, Slider } from '../controls.tsx'
import { frameGrids } from '../frame-grids.ts'
import { RibbonBounds } from '../ribbon-bounds.tsx'
import { type GroupProps, percent } from './group-props.ts'

const RULES: readonly { value: FrameRule; label: string }[] = [
  { value: 'inOrder', label: 'in order' },
  { value: 'random', label: 'at random' },
  { value: 'direction', label: 'by direction' },
  { value: 'pressure', label: 'by pressure' },
  { value: 'speed', label: 'by speed' },
  { value: 'tiltX', label: 'by tilt, left and right' },
  { value: 'tiltY', label: 'by tilt, up and down' },
]
const AXES = [
  { value: 'across', label: 'across' },
  { value: 'along', label: 'along' },
  { value: 'both', label: 'both ways' },
] as const

type Props = GroupProps & {
  frames: number
  stripUrl: string | undefined
  findings: Findings | undefined
  onFindJoin: () => void
}

/** How marks follow one another, or how a strip is laid. */
export function PathGroup({ recipe, onChange, frames, stripUrl, findings, onFindJoin }: Props) {
  const { path } = recipe
  const { taper, ribbon } = path
  const set = (next: Partial<typeof path>) => onChange({ ...recipe, path: { ...path, ...next } })
  const setTaper = (next: Partial<typeof taper>) => set({ taper: { ...taper, ...next } })
  const idle = ribbon ? 'A ribbon is laid in one piece; it has no stamps.' : undefined
  const noTaper = taper.startPx === 0 && taper.endPx === 0 ? 'Give the taper a length first.' : undefined
  return (
    <Group title="Path" note="spacing, scatter, count" inUse>
      <Choices
        label="Along the path"
        value={ribbon?.lay ?? 'stamps'}
        choices={[
          { value: 'stamps', label: 'stamps' },
          { value: 'repeated', label: 'a strip, repeated' },
          { value: 'stretched', label: 'a strip, stretched' },
        ]}
        idle={frames > 1 ? 'A brush with several frames cannot be laid as a strip.' : undefined}
        onChange={(lay) => {
          if (lay === 'stamps') {
            const { ribbon: _ribbon, ...rest } = path
            onChange({ ...recipe, path: rest })
          } else set({ ribbon: { leadInPx: 0, leadOutPx: 0, ...ribbon, lay } })
        }}
      />
      {ribbon?.lay === 'repeated' && stripUrl && (
        <RibbonBounds
          ribbon={ribbon}
          stripUrl={stripUrl}
          findings={findings}
          onChange={(bounds) => set({ ribbon: { ...ribbon, ...bounds } })}
          onFindJoin={onFindJoin}
        />
      )}
      <Slider
        label="Spacing"
        unit="%"
        min={1}
        max={SPACING_MAX_PCT}
        value={path.spacingPct}
        usual={defaultRecipe({ frames }).path.spacingPct}
        eased
        idle={idle}
        onChange={(spacingPct) => set({ spacingPct })}
      />
      <Slider
        label="Scatter"
        unit="%"
        min={0}
        max={1000}
        value={path.scatterPct}
        usual={0}
        eased
        idle={idle && ''}
        onChange={(scatterPct) => set({ scatterPct })}
      />
      <Choices
        label="Scattered"
        value={path.scatterAxis}
        choices={AXES}
        idle={(idle && '') ?? (path.scatterPct === 0 ? 'Nothing is scattered yet.' : undefined)}
        onChange={(scatterAxis) => set({ scatterAxis })}
      />
      <Slider
        label="Stamps a step"
        unit=""
        min={1}
        max={COUNT_MAX}
        value={path.count}
        usual={1}
        idle={idle && ''}
        onChange={(count) => set({ count })}
      />
      {frames > 1 && <NextFrame frames={frames} rules={path.nextFrame} onChange={(nextFrame) => set({ nextFrame })} />}
      <Slider
        label="Taper at the start"
        unit="px"
        min={0}
        max={2000}
        value={taper.startPx}
        usual={0}
        eased
        onChange={(startPx) => setTaper({ startPx })}
      />
      <Slider
        label="Taper at the end"
        unit="px"
        min={0}
        max={2000}
        value={taper.endPx}
        usual={0}
        eased
        onChange={(endPx) => setTaper({ endPx })}
      />
      <Slider
        label="Taper thins by"
        unit="%"
        min={0}
        max={100}
        value={percent(taper.size)}
        usual={0}
        idle={noTaper}
        onChange={(pct) => setTaper({ size: pct / 100 })}
      />
      <Slider
        label="Taper pales by"
        unit="%"
        min={0}
        max={100}
        value={percent(taper.opacity)}
        usual={0}
        idle={noTaper && ''}
        onChange={(pct) => setTaper({ opacity: pct / 100 })}
      />
    </Group>
  )
}

type Rules = GroupProps['recipe']['path']['nextFrame']

/** One rule over all frames, or two at once over a grid of them. */
function NextFrame({ frames, rules, onChange }: { frames: number; rules: Rules; onChange: (rules: Rules) => void }) {
  const [first, second] = rules
  const grids = frameGrids(frames)
  const rule = first?.rule ?? 'inOrder'
  return (
    <>
      <Choices
        label={second ? `Next frame, of ${first?.frames} rows` : 'Next frame'}
        value={rule}
        choices={RULES}
        onChange={(next) =>
          onChange(second ? [{ rule: next, frames: first?.frames ?? 1 }, second] : [{ rule: next, frames }])
        }
      />
      {grids.length > 0 && (
        <label className="flex items-center gap-2 text-13 font-medium">
          Frames lie as
          <select
            value={second ? `${first?.frames}x${second.frames}` : ''}
            onChange={(event) => {
              const [rows, columns] = event.target.value.split('x').map(Number)
              onChange(
                rows && columns
                  ? [
                      { rule, frames: rows },
                      { rule: second?.rule ?? 'random', frames: columns },
                    ]
                  : [{ rule, frames }],
              )
            }}
            className="rounded-4 border border-line bg-raised px-2 py-1"
          >
            <option value="">one row</option>
            {grids.map(([rows, columns]) => (
              <option key={rows} value={`${rows}x${columns}`}>
                {rows} rows of {columns}
              </option>
            ))}
          </select>
        </label>
      )}
      {second && (
        <Choices
          label={`Within a row of ${second.frames}`}
          value={second.rule}
          choices={RULES}
          onChange={(next) =>
            onChange([
              { rule, frames: first?.frames ?? 1 },
              { ...second, rule: next },
            ])
          }
        />
      )}
    </>
  )
}
