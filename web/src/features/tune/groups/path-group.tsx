import { LAY_WORDS } from '@satchel/core/brush/recipe-words'
import { Choices, choicesOf, Group } from '../../../components/controls.tsx'
import { NextFrame } from '../../../components/next-frame.tsx'
import type { Findings } from '../../../workers/stroke/protocol.ts'
import { RibbonBounds } from '../canvas/ribbon-bounds.tsx'
import type { GroupProps } from './group-props.ts'
import { RecipeSlider } from './recipe-slider.tsx'
import { TaperControls } from './taper-controls.tsx'

type Props = GroupProps & {
  frames: number
  stripUrl: string | undefined
  findings: Findings | undefined
  onFindJoin: () => void
}

/** How marks follow one another, or how a strip is laid. */
export function PathGroup({ recipe, onChange, frames, stripUrl, findings, onFindJoin }: Props) {
  const { path } = recipe
  const { ribbon } = path
  const set = (next: Partial<typeof path>) => onChange({ ...recipe, path: { ...path, ...next } })
  const idle = ribbon ? 'A ribbon is laid in one piece; it has no stamps.' : undefined
  return (
    <Group title="Path" note="spacing, scatter, count" inUse>
      <Choices
        label="Along the path"
        value={ribbon?.lay ?? 'stamps'}
        choices={[{ value: 'stamps', label: 'stamps' }, ...choicesOf(LAY_WORDS)]}
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
      <RecipeSlider name="path.spacingPct" frames={frames} idle={idle} recipe={recipe} onChange={onChange} />
      <RecipeSlider name="path.scatter.acrossPct" idle={idle && ''} recipe={recipe} onChange={onChange} />
      <RecipeSlider name="path.scatter.alongPct" idle={idle && ''} recipe={recipe} onChange={onChange} />
      <RecipeSlider name="path.count" idle={idle && ''} recipe={recipe} onChange={onChange} />
      {frames > 1 && <NextFrame frames={frames} rules={path.nextFrame} onChange={(nextFrame) => set({ nextFrame })} />}
      <TaperControls recipe={recipe} onChange={onChange} />
    </Group>
  )
}
