import { RECIPE_PARTS } from '@satchel/core/brush/parts'
import { ANGLE_MODE_WORDS } from '@satchel/core/brush/recipe-words'
import { Choices, choicesOf, Group } from '../../../components/controls.tsx'
import type { GroupProps } from './group-props.ts'
import { RecipeSlider } from './recipe-slider.tsx'

const MODES = choicesOf(ANGLE_MODE_WORDS)

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
