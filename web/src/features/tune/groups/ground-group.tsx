import { usesGroup } from '@satchel/core/brush/parts'
import type { Grain } from '@satchel/core/brush/recipe'
import { USUAL_GRAIN } from '@satchel/core/brush/recipe-numbers'
import { GRAIN_ANCHOR_WORDS, GRAIN_TURN_WORDS } from '@satchel/core/brush/recipe-words'
import { Choices, choicesOf, Group } from '../../../components/controls.tsx'
import { GrainPicker } from './grain-picker.tsx'
import type { GroupProps } from './group-props.ts'
import { RecipeSlider } from './recipe-slider.tsx'

/** The grain that the mark picks up. */
export function GroundGroup({ recipe, onChange, isGone }: GroupProps & { isGone: boolean }) {
  const { grain } = recipe.ground
  const set = (next: Partial<Grain>) => grain && onChange({ ...recipe, ground: { grain: { ...grain, ...next } } })
  return (
    <Group title="Ground" note="grain" inUse={usesGroup(recipe, 'ground')}>
      <GrainPicker
        chosen={grain?.sha256}
        onChoose={(sha256) =>
          onChange({ ...recipe, ground: sha256 === undefined ? {} : { grain: { ...USUAL_GRAIN, ...grain, sha256 } } })
        }
      />
      {grain && isGone && (
        <p role="alert" className="text-13 text-madder">
          The grain of this brush is gone, and it paints without one. Choose another, or take its file in again under
          Gather.
        </p>
      )}
      {grain && !isGone && (
        <>
          <Choices
            label="The grain lies on"
            value={grain.anchor}
            choices={choicesOf(GRAIN_ANCHOR_WORDS)}
            idle={
              recipe.path.ribbon && grain.anchor === 'stamp'
                ? 'A ribbon has no stamps: here it lies on the canvas.'
                : undefined
            }
            onChange={(anchor) => set({ anchor })}
          />
          <RecipeSlider name="ground.grain.scalePct" recipe={recipe} onChange={onChange} />
          <RecipeSlider name="ground.grain.strength" recipe={recipe} onChange={onChange} />
          <RecipeSlider name="ground.grain.brightness" recipe={recipe} onChange={onChange} />
          <RecipeSlider name="ground.grain.contrast" recipe={recipe} onChange={onChange} />
          <Choices
            label="Turned at random"
            value={grain.randomTurn}
            choices={choicesOf(GRAIN_TURN_WORDS)}
            onChange={(randomTurn) => set({ randomTurn })}
          />
        </>
      )}
    </Group>
  )
}
