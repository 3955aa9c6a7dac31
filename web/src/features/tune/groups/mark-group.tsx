import { RECIPE_PARTS } from '@satchel/core/brush/parts'
import type { AngleMode } from '@satchel/core/brush/recipe'
import { Choices, Group } from '../../../components/controls.tsx'
import type { GroupProps } from './group-props.ts'
import { RecipeSlider } from './recipe-slider.tsx'

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
      <RecipeSlider
        name="mark.sizePx"
        {...(path.ribbon ? { label: 'Width' } : {})}
        recipe={recipe}
        onChange={onChange}
      />
      <RecipeSlider name="mark.squash" idle={idle} recipe={recipe} onChange={onChange} />
      <Choices
        label={RECIPE_PARTS.mark.angle.label}
        value={mark.angle.mode}
        choices={MODES}
        idle={idle && ''}
        onChange={(mode) => set({ angle: { ...mark.angle, mode } })}
      />
      <RecipeSlider
        name="mark.angle.deg"
        {...(mark.angle.mode === 'fixed' ? {} : { label: 'Turned further by' })}
        idle={idle && ''}
        recipe={recipe}
        onChange={onChange}
      />
    </Group>
  )
}
