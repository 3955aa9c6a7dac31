import { RECIPE_PARTS } from '@satchel/core/brush/parts'
import type { Recipe } from '@satchel/core/brush/recipe'
import { BEHAVIOUR_WORDS, READING_WORDS } from '@satchel/core/brush/recipe-words'
import { TONE_CROWDED_SHARE } from '@satchel/core/brush/tone'
import { BLEND_MODES } from '@satchel/core/raster/blend'
import { Pipette } from 'lucide-react'
import { Button } from '../../../components/button.tsx'
import { Choices, choicesOf, Group } from '../../../components/controls.tsx'
import type { Findings } from '../../../workers/stroke/protocol.ts'
import type { GroupProps } from './group-props.ts'
import { RecipeSlider } from './recipe-slider.tsx'

const PARTS = RECIPE_PARTS.colour
const READINGS = choicesOf(READING_WORDS)
const BEHAVIOURS = choicesOf(BEHAVIOUR_WORDS)

/** Reading and blending. */
export function ColourGroup({ recipe, onChange, tone }: GroupProps & { tone: Findings['tone'] }) {
  const { colour } = recipe
  const set = (next: Partial<Recipe['colour']>) => onChange({ ...recipe, colour: { ...colour, ...next } })
  return (
    <Group title="Colour" note="reading, blend" inUse>
      <Choices
        label={PARTS.reading.label}
        value={colour.reading}
        choices={READINGS}
        onChange={(reading) => set({ reading })}
      />
      {colour.reading === 'tone' && (
        <>
          <RecipeSlider
            name="colour.anchorGrey"
            idle={colour.behaviour === 'paint' ? undefined : 'What erases or smears has no colour to shade.'}
            recipe={recipe}
            onChange={onChange}
          />
          {tone && (
            <>
              <Button className="justify-self-start text-13" onClick={() => set({ anchorGrey: toAnchor(tone.mean) })}>
                <Pipette size={16} aria-hidden /> Take it from the tip’s mean, {Math.round(tone.mean * 100)} %
              </Button>
              <ToneWarning tone={tone} />
            </>
          )}
        </>
      )}
      <Choices
        label={PARTS.behaviour.label}
        value={colour.behaviour}
        choices={BEHAVIOURS}
        idle={
          recipe.path.ribbon && colour.behaviour === 'smear'
            ? 'A ribbon has no stamps to smear with: it paints.'
            : undefined
        }
        onChange={(behaviour) => set({ behaviour })}
      />
      <RecipeSlider name="colour.flow" recipe={recipe} onChange={onChange} />
      <RecipeSlider name="colour.opacity" recipe={recipe} onChange={onChange} />
      <label className="grid gap-1 text-13 font-medium">
        {PARTS.blend.label}
        <select
          value={colour.blend}
          onChange={(event) => set({ blend: event.target.value as Recipe['colour']['blend'] })}
          className="rounded-4 border border-line bg-raised px-2 py-1.5"
        >
          {BLEND_MODES.map((mode) => (
            <option key={mode} value={mode}>
              {mode}
            </option>
          ))}
        </select>
        {colour.behaviour !== 'paint' && (
          <span className="text-12 font-normal text-quiet">Only what paints is blended.</span>
        )}
      </label>
    </Group>
  )
}

const toAnchor = (mean: number) => Math.min(0.99, Math.max(0.01, Math.round(mean * 1000) / 1000))

function ToneWarning({ tone: { darker, lighter } }: { tone: NonNullable<Findings['tone']> }) {
  const [share, side] = darker > lighter ? [darker, 'darker'] : [lighter, 'lighter']
  if (share < TONE_CROWDED_SHARE) return null
  return (
    <p role="status" className="text-13 text-amber">
      {Math.round(share * 100)} % of the tip is {side} than the anchor: there is little left to shade the other way.
      Take the anchor from the mean.
    </p>
  )
}
