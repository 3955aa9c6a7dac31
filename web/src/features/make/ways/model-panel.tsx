import { BECOME_WORDS } from '@satchel/core/make/become'
import { MODEL_NUMBERS, VIEW_NUMBERS } from '@satchel/core/make/view-numbers'
import type { Model } from '@satchel/core/make/ways'
import { Plus, X } from 'lucide-react'
import { Button } from '../../../components/button.tsx'
import { Choices, choicesOf } from '../../../components/controls.tsx'
import { SettingSlider } from '../../../components/number-slider.tsx'
import { RangeSlider } from '../../../components/range-slider.tsx'

type Props = {
  model: Model
  part: number
  onPart: (part: number) => void
  circleLoss: number | undefined
  onChange: (model: Model) => void
}

/** A loss that a painter would see. */
const SEEN_LOSS = 0.005

/** From where a model is looked at; each view becomes a tip, or a frame. */
export function ModelPanel({ model, part, onPart, circleLoss, onChange }: Props) {
  const at = Math.min(part, model.views.length - 1)
  const view = model.views[at]
  if (!view) return null
  const set = (change: Partial<typeof view>) =>
    onChange({ ...model, views: model.views.map((each, i) => (i === at ? { ...each, ...change } : each)) })
  return (
    <>
      <p className="text-13 text-quiet">Drag the picture to turn the model.</p>
      <SettingSlider rows={VIEW_NUMBERS} name="yawDeg" of={view} onChange={set} />
      <SettingSlider rows={VIEW_NUMBERS} name="pitchDeg" of={view} onChange={set} />
      <SettingSlider rows={VIEW_NUMBERS} name="rollDeg" of={view} onChange={set} />
      <SettingSlider rows={VIEW_NUMBERS} name="zoom" of={view} onChange={set} />
      <RangeSlider
        label="Depth shown"
        unit="%"
        min={0}
        max={100}
        value={{ from: Math.round(view.near * 100), to: Math.round(view.far * 100) }}
        usual={{ from: 0, to: 100 }}
        onChange={({ from, to }) => from < to && set({ near: from / 100, far: to / 100 })}
      />
      <Choices
        label="Views"
        value={String(at)}
        choices={model.views.map((_, i) => ({ value: String(i), label: String(i + 1) }))}
        onChange={(value) => onPart(Number(value))}
      />
      <div className="flex flex-wrap gap-2">
        <Button
          onClick={() => {
            onChange({ ...model, views: [...model.views, { ...view, yawDeg: ((view.yawDeg + 45 + 180) % 360) - 180 }] })
            onPart(model.views.length)
          }}
        >
          <Plus size={18} aria-hidden /> Another view
        </Button>
        {model.views.length > 1 && (
          <Button
            kind="quiet"
            onClick={() => {
              onChange({ ...model, views: model.views.filter((_, i) => i !== at) })
              onPart(Math.max(0, at - 1))
            }}
          >
            <X size={18} aria-hidden /> Leave this one out
          </Button>
        )}
      </div>
      {model.views.length > 1 && (
        <Choices
          label="They become"
          value={model.become}
          choices={choicesOf(BECOME_WORDS)}
          onChange={(become) => onChange({ ...model, become })}
        />
      )}
      <SettingSlider rows={MODEL_NUMBERS} name="sidePx" of={model} onChange={onChange} />
      {circleLoss !== undefined && (
        <p className={`text-13 ${circleLoss > SEEN_LOSS ? 'text-amber' : 'text-quiet'}`} role="status">
          {circleLoss > SEEN_LOSS
            ? `Apps that cut tips to a circle would lose ${(circleLoss * 100).toFixed(1)} % of its paint in the corners.`
            : 'Nothing would be lost where tips are cut to a circle.'}
        </p>
      )}
    </>
  )
}
