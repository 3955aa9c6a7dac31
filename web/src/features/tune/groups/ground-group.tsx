import { usesGroup } from '@satchel/core/brush/parts'
import type { Grain } from '@satchel/core/brush/recipe'
import { Choices, Group, Slider } from '../../../components/controls.tsx'
import { GrainPicker } from './grain-picker.tsx'
import { type GroupProps, percent } from './group-props.ts'

const USUAL: Omit<Grain, 'sha256'> = { anchor: 'canvas', scalePct: 100, strength: 1, brightness: 0, contrast: 0, randomTurn: 'none' } // biome-ignore format: one grain

/** The grain that the mark picks up. */
export function GroundGroup({ recipe, onChange, isGone }: GroupProps & { isGone: boolean }) {
  const { grain } = recipe.ground
  const set = (next: Partial<Grain>) => grain && onChange({ ...recipe, ground: { grain: { ...grain, ...next } } })
  return (
    <Group title="Ground" note="grain" inUse={usesGroup(recipe, 'ground')}>
      <GrainPicker
        chosen={grain?.sha256}
        onChoose={(sha256) =>
          onChange({ ...recipe, ground: sha256 === undefined ? {} : { grain: { ...USUAL, ...grain, sha256 } } })
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
            choices={[
              { value: 'canvas', label: 'the canvas' },
              { value: 'stroke', label: 'each stroke' },
              { value: 'stamp', label: 'each stamp' },
            ]}
            idle={
              recipe.path.ribbon && grain.anchor === 'stamp'
                ? 'A ribbon has no stamps: here it lies on the canvas.'
                : undefined
            }
            onChange={(anchor) => set({ anchor })}
          />
          <Slider
            label="Scale"
            unit="%"
            min={1}
            max={1000}
            value={grain.scalePct}
            usual={100}
            eased
            onChange={(scalePct) => set({ scalePct })}
          />
          <Slider
            label="Strength"
            unit="%"
            min={0}
            max={100}
            value={percent(grain.strength)}
            usual={100}
            onChange={(pct) => set({ strength: pct / 100 })}
          />
          <Slider
            label="Brightness"
            unit="%"
            min={-100}
            max={100}
            value={percent(grain.brightness)}
            usual={0}
            onChange={(pct) => set({ brightness: pct / 100 })}
          />
          <Slider
            label="Contrast"
            unit="%"
            min={-100}
            max={100}
            value={percent(grain.contrast)}
            usual={0}
            onChange={(pct) => set({ contrast: pct / 100 })}
          />
          <Choices
            label="Turned at random"
            value={grain.randomTurn}
            choices={[
              { value: 'none', label: 'never' },
              { value: 'stroke', label: 'each stroke' },
              { value: 'stamp', label: 'each stamp' },
            ]}
            onChange={(randomTurn) => set({ randomTurn })}
          />
        </>
      )}
    </Group>
  )
}
