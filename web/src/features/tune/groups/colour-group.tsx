import { RECIPE_PARTS } from '@satchel/core/brush/parts'
import type { Recipe } from '@satchel/core/brush/recipe'
import { TONE_CROWDED_SHARE } from '@satchel/core/brush/tone'
import { BLEND_MODES } from '@satchel/core/raster/blend'
import { Pipette } from 'lucide-react'
import { Button } from '../../../components/button.tsx'
import { Choices, Group, Slider } from '../../../components/controls.tsx'
import type { Findings } from '../../../workers/stroke/protocol.ts'
import { type GroupProps, percent } from './group-props.ts'

const PARTS = RECIPE_PARTS.colour
const READINGS = [
  { value: 'dark', label: 'dark paints' },
  { value: 'light', label: 'light paints' },
  { value: 'alpha', label: 'alpha paints' },
  { value: 'own', label: 'own colours' },
  { value: 'tone', label: 'tone' },
] as const
const BEHAVIOURS = [
  { value: 'paint', label: 'paints' },
  { value: 'erase', label: 'erases' },
  { value: 'smear', label: 'smears' },
] as const

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
          <Slider
            label={PARTS.anchorGrey.label}
            unit="%"
            min={1}
            max={99}
            value={percent(colour.anchorGrey)}
            usual={50}
            idle={colour.behaviour === 'paint' ? undefined : 'What erases or smears has no colour to shade.'}
            onChange={(pct) => set({ anchorGrey: pct / 100 })}
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
      <Slider
        label={PARTS.flow.label}
        unit="%"
        min={0}
        max={100}
        value={percent(colour.flow)}
        usual={100}
        onChange={(pct) => set({ flow: pct / 100 })}
      />
      <Slider
        label={PARTS.opacity.label}
        unit="%"
        min={0}
        max={100}
        value={percent(colour.opacity)}
        usual={100}
        onChange={(pct) => set({ opacity: pct / 100 })}
      />
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
