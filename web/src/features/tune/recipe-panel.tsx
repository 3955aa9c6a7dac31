import {
  defaultRecipe,
  type Recipe,
  SIZE_MAX_PX,
  SPACING_MAX_PCT,
  type Spread,
  spreadRange,
} from '@satchel/core/brush/recipe'
import { Choices, Group, Slider, Switch } from './controls.tsx'

type Props = { recipe: Recipe; frames: number; onChange: (recipe: Recipe) => void }

const RISE: [number, number][] = [
  [0, 0.1],
  [0.5, 0.55],
  [1, 1],
]
const USUAL = defaultRecipe()

/** How much a spread varies, in percent. */
const amountPct = (spread: Spread) => {
  const { from, to } = spreadRange(spread)
  return Math.round((to - from) * 100)
}

/** The recipe in its groups; only those whose parts the strokes use are here. */
export function RecipePanel({ recipe, frames, onChange }: Props) {
  const { mark, path, variation, hand, colour } = recipe
  const usualSpacing = defaultRecipe({ frames }).path.spacingPct
  const setMark = (next: Partial<Recipe['mark']>) => onChange({ ...recipe, mark: { ...mark, ...next } })
  const setPath = (next: Partial<Recipe['path']>) => onChange({ ...recipe, path: { ...path, ...next } })
  const setVariation = (next: Partial<Recipe['variation']>) =>
    onChange({ ...recipe, variation: { ...variation, ...next } })
  const setColour = (next: Partial<Recipe['colour']>) => onChange({ ...recipe, colour: { ...colour, ...next } })
  const setPressure = (part: 'size' | 'opacity', on: boolean) => {
    const { [part]: _old, ...others } = hand.pressure
    onChange({ ...recipe, hand: { ...hand, pressure: on ? { ...others, [part]: RISE } : others } })
  }
  const rule = path.nextFrame[0]?.rule ?? 'inOrder'
  const varied = amountPct(variation.size) > 0 || variation.angle > 0 || amountPct(variation.opacity) > 0
  return (
    <div>
      <Group title="Mark" note="size and angle" inUse>
        <Slider
          label="Size"
          unit="px"
          min={1}
          max={SIZE_MAX_PX}
          value={round1(mark.sizePx)}
          usual={USUAL.mark.sizePx}
          eased
          onChange={(sizePx) => setMark({ sizePx })}
        />
        <Slider
          label="Angle"
          unit="°"
          min={-180}
          max={180}
          value={mark.angle.deg}
          usual={0}
          onChange={(deg) => setMark({ angle: { ...mark.angle, deg } })}
        />
        <Choices
          label="The mark lies"
          value={mark.angle.mode === 'following' ? 'following' : 'fixed'}
          choices={[
            { value: 'fixed', label: 'as drawn' },
            { value: 'following', label: 'along the stroke' },
          ]}
          onChange={(mode) => setMark({ angle: { ...mark.angle, mode } })}
        />
      </Group>
      <Group title="Path" note="spacing and frames" inUse>
        <Slider
          label="Spacing"
          unit="%"
          min={1}
          max={SPACING_MAX_PCT}
          value={path.spacingPct}
          usual={usualSpacing}
          eased
          onChange={(spacingPct) => setPath({ spacingPct })}
        />
        {frames > 1 && (
          <Choices
            label="Next frame"
            value={rule}
            choices={[
              { value: 'inOrder', label: 'in order' },
              { value: 'random', label: 'at random' },
              { value: 'direction', label: 'by direction' },
              { value: 'pressure', label: 'by pressure' },
            ]}
            onChange={(next) => setPath({ nextFrame: [{ rule: next, frames }] })}
          />
        )}
      </Group>
      <Group title="Variation" note="random change" inUse={varied}>
        <Slider
          label="Size"
          unit="%"
          min={0}
          max={100}
          value={amountPct(variation.size)}
          usual={0}
          onChange={(pct) => setVariation({ size: pct / 100 })}
        />
        <Slider
          label="Angle"
          unit="%"
          min={0}
          max={100}
          value={Math.round(variation.angle * 100)}
          usual={0}
          onChange={(pct) => setVariation({ angle: pct / 100 })}
        />
        <Slider
          label="Opacity"
          unit="%"
          min={0}
          max={100}
          value={amountPct(variation.opacity)}
          usual={0}
          onChange={(pct) => setVariation({ opacity: pct / 100 })}
        />
      </Group>
      <Group title="Hand" note="pressure" inUse={Object.keys(hand.pressure).length > 0}>
        <Switch
          label="Pressing harder makes it larger"
          checked={hand.pressure.size !== undefined}
          onChange={(on) => setPressure('size', on)}
        />
        <Switch
          label="Pressing harder makes it denser"
          checked={hand.pressure.opacity !== undefined}
          onChange={(on) => setPressure('opacity', on)}
        />
      </Group>
      <Group title="Colour" note="reading and density" inUse>
        <Choices
          label="How pixels become paint"
          value={colour.reading}
          choices={[
            { value: 'dark', label: 'dark paints' },
            { value: 'light', label: 'light paints' },
            { value: 'alpha', label: 'alpha paints' },
            { value: 'own', label: 'own colours' },
          ]}
          onChange={(reading) => setColour({ reading })}
        />
        <Slider
          label="Flow"
          unit="%"
          min={0}
          max={100}
          value={Math.round(colour.flow * 100)}
          usual={100}
          onChange={(pct) => setColour({ flow: pct / 100 })}
        />
        <Slider
          label="Opacity"
          unit="%"
          min={0}
          max={100}
          value={Math.round(colour.opacity * 100)}
          usual={100}
          onChange={(pct) => setColour({ opacity: pct / 100 })}
        />
      </Group>
    </div>
  )
}

const round1 = (value: number) => Math.round(value * 10) / 10
