import { RECIPE_PARTS } from '@satchel/core/brush/parts'
import { COUNT_MAX, defaultRecipe, SCATTER_MAX_PCT, SPACING_MAX_PCT, SPACING_MIN_PCT } from '@satchel/core/brush/recipe'
import { Choices, Group, Slider } from '../../../components/controls.tsx'
import { NextFrame } from '../../../components/next-frame.tsx'
import type { Findings } from '../../../workers/stroke/protocol.ts'
import { RibbonBounds } from '../canvas/ribbon-bounds.tsx'
import type { GroupProps } from './group-props.ts'
import { TaperControls } from './taper-controls.tsx'

const { spacingPct: SPACING, count: COUNT } = RECIPE_PARTS.path
const SCATTERS = [
  { part: 'acrossPct', label: 'Scatter to the sides' },
  { part: 'alongPct', label: 'Scatter along the path' },
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
  const idle = ribbon ? 'A ribbon is laid in one piece; it has no stamps.' : undefined
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
        label={SPACING.label}
        unit="%"
        min={SPACING_MIN_PCT}
        max={SPACING_MAX_PCT}
        value={path.spacingPct}
        usual={defaultRecipe({ frames }).path.spacingPct}
        eased
        idle={idle}
        onChange={(spacingPct) => set({ spacingPct })}
      />
      {SCATTERS.map(({ part, label }) => (
        <Slider
          key={part}
          label={label}
          unit="%"
          min={0}
          max={SCATTER_MAX_PCT}
          value={path.scatter[part]}
          usual={0}
          eased
          idle={idle && ''}
          onChange={(pct) => set({ scatter: { ...path.scatter, [part]: pct } })}
        />
      ))}
      <Slider
        label={COUNT.label}
        unit=""
        min={1}
        max={COUNT_MAX}
        value={path.count}
        usual={1}
        idle={idle && ''}
        onChange={(count) => set({ count })}
      />
      {frames > 1 && <NextFrame frames={frames} rules={path.nextFrame} onChange={(nextFrame) => set({ nextFrame })} />}
      <TaperControls taper={taper} onChange={(next) => set({ taper: next })} />
    </Group>
  )
}
