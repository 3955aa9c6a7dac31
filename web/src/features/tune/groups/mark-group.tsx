import { RECIPE_PARTS } from '@satchel/core/brush/parts'
import { type AngleMode, defaultRecipe, SIZE_MAX_PX } from '@satchel/core/brush/recipe'
import { Choices, Group, Slider } from '../../../components/controls.tsx'
import { type GroupProps, percent, round1 } from './group-props.ts'

const MODES: readonly { value: AngleMode; label: string }[] = [
  { value: 'fixed', label: 'as drawn' },
  { value: 'following', label: 'along the stroke' },
  { value: 'first', label: 'as the stroke began' },
  { value: 'tilt', label: 'as the pen leans' },
]

/** Size and angle. */
export function MarkGroup({ recipe, onChange }: GroupProps) {
  const { mark, path } = recipe
  const set = (next: Partial<typeof mark>) => onChange({ ...recipe, mark: { ...mark, ...next } })
  const idle = path.ribbon ? 'A ribbon always lies along its path.' : undefined
  return (
    <Group title="Mark" note="size and angle" inUse>
      <Slider
        label={path.ribbon ? 'Width' : RECIPE_PARTS.mark.sizePx.label}
        unit="px"
        min={1}
        max={SIZE_MAX_PX}
        value={round1(mark.sizePx)}
        usual={defaultRecipe().mark.sizePx}
        eased
        onChange={(sizePx) => set({ sizePx })}
      />
      <Slider
        label={RECIPE_PARTS.mark.squash.label}
        unit="%"
        min={1}
        max={100}
        value={percent(mark.squash)}
        usual={100}
        idle={idle}
        onChange={(pct) => set({ squash: pct / 100 })}
      />
      <Choices
        label={RECIPE_PARTS.mark.angle.label}
        value={mark.angle.mode}
        choices={MODES}
        idle={idle && ''}
        onChange={(mode) => set({ angle: { ...mark.angle, mode } })}
      />
      <Slider
        label={mark.angle.mode === 'fixed' ? 'Angle' : 'Turned further by'}
        unit="°"
        min={-180}
        max={180}
        value={mark.angle.deg}
        usual={0}
        idle={idle && ''}
        onChange={(deg) => set({ angle: { ...mark.angle, deg } })}
      />
    </Group>
  )
}
