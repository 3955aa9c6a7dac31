import { READING_WORDS } from '@satchel/core/brush/recipe-words'
import type { StepName, Steps } from '@satchel/core/make/step-kinds'
import { CROP_NUMBERS, type Crop, WHOLE } from '@satchel/core/make/steps/crop'
import { EDGE_NUMBERS } from '@satchel/core/make/steps/edge'
import { EVEN_NUMBERS } from '@satchel/core/make/steps/even'
import { GREY_WORDS, PLAIN_GREY, TOUCH_BECOMES } from '@satchel/core/make/steps/grey'
import { SIZE_NUMBERS, type Size } from '@satchel/core/make/steps/size'
import { SPECK_NUMBERS } from '@satchel/core/make/steps/specks'
import { TONE_NUMBERS, type Tones } from '@satchel/core/make/steps/tones'
import { TRIM_NUMBERS } from '@satchel/core/make/steps/trim'
import type { ReactNode } from 'react'
import { Button } from '../../../components/button.tsx'
import { Choices, choicesOf } from '../../../components/controls.tsx'
import { plural } from '../../../components/format.ts'
import { SettingSlider } from '../../../components/number-slider.tsx'
import { RangeSlider } from '../../../components/range-slider.tsx'
import { HueRing } from './hue-ring.tsx'
import type { PanelContext } from './panel-context.ts'
import { TouchPanel } from './touch-panel.tsx'

type SettingsOf<Name extends StepName> = Extract<Steps[number], { kind: Name }>['settings']
type Panel<Name extends StepName> = (
  settings: SettingsOf<Name>,
  onChange: (settings: SettingsOf<Name>) => void,
  context: PanelContext,
) => ReactNode

const Hint = ({ children }: { children: ReactNode }) => <p className="text-13 text-quiet">{children}</p>

/** The ratios a crop can be held to, as width over height. */
const RATIOS = [
  { value: 'free', label: 'free' },
  { value: '1', label: 'square' },
  { value: '4', label: '4 : 1' },
  { value: '1.5', label: '3 : 2' },
] as const

/** The largest part of a picture with a ratio, around the middle of what was kept. */
function toRatio(crop: Crop, ratio: number, pictureRatio: number): Crop {
  const [cx, cy] = [(crop.left + crop.right) / 2, (crop.top + crop.bottom) / 2]
  let width = crop.right - crop.left
  let height = (width * pictureRatio) / ratio
  if (height > 1) {
    width /= height
    height = 1
  }
  const left = Math.min(1 - width, Math.max(0, cx - width / 2))
  const top = Math.min(1 - height, Math.max(0, cy - height / 2))
  return { ...crop, left, top, right: left + width, bottom: top + height }
}

/** Which of the ratios a crop has, within what a pixel can be off. */
function ratioOf({ left, top, right, bottom }: Crop, pictureRatio: number): (typeof RATIOS)[number]['value'] {
  const ratio = ((right - left) / (bottom - top)) * pictureRatio
  return RATIOS.find(({ value }) => Math.abs(ratio / Number(value) - 1) < 0.005)?.value ?? 'free'
}

const CANVASES = [
  { value: 'side', label: 'longer side' },
  { value: '1024 256', label: '1024 × 256' },
  { value: '512 512', label: '512 × 512' },
  { value: '1024 1024', label: '1024 × 1024' },
  { value: '2048 2048', label: '2048 × 2048' },
] as const
const canvasOf = (size: Size) => (size.fit === 'side' ? 'side' : `${size.width} ${size.height}`)

/** The controls of every kind of step, one row each. */
export const PANELS: { [Name in StepName]: Panel<Name> } = {
  crop: (crop, onChange, { tools, onTools, sourceWidth, sourceHeight }) => (
    <>
      <SettingSlider rows={CROP_NUMBERS} name="angleDeg" of={crop} onChange={onChange} />
      <Choices
        label="Keep a part by"
        value={tools.region}
        choices={[
          { value: 'rectangle', label: 'rectangle' },
          { value: 'lasso', label: 'lasso' },
        ]}
        onChange={(region) => onTools({ ...tools, region })}
      />
      {tools.region === 'rectangle' ? (
        <>
          <Choices
            label="Shape"
            value={ratioOf(crop, sourceWidth / sourceHeight)}
            choices={RATIOS}
            onChange={(value) => value !== 'free' && onChange(toRatio(crop, Number(value), sourceWidth / sourceHeight))}
          />
          <Hint>Drag the corners on the picture.</Hint>
        </>
      ) : (
        <Hint>Draw around what counts; the rest becomes ground. The last line drawn is the one that is kept.</Hint>
      )}
      {crop.lasso && (
        <Button onClick={() => onChange({ ...WHOLE, angleDeg: crop.angleDeg })}>Take the lasso away</Button>
      )}
      <Button onClick={() => onChange(WHOLE)}>Keep the whole picture</Button>
    </>
  ),
  grey: (grey, onChange, { tools, onTools, onTouches }) => (
    <>
      <Choices
        label="What counts"
        value={grey.by}
        choices={choicesOf(GREY_WORDS)}
        onChange={(by) => onChange({ ...grey, by })}
      />
      {grey.by === 'colour' && (
        <>
          <Choices
            label="Touch the picture: this becomes"
            value={tools.becomes}
            choices={choicesOf(TOUCH_BECOMES)}
            onChange={(becomes) => onTools({ ...tools, becomes })}
          />
          <p className="flex items-center justify-between text-13 text-quiet">
            {grey.touches.length === 0
              ? 'Guessed from border and middle.'
              : plural(grey.touches.length, 'touch', 'touches')}
            {grey.touches.length > 0 && (
              <button type="button" className="text-saddle underline" onClick={() => onTouches([])}>
                Take them away
              </button>
            )}
          </p>
          <HueRing ring={grey.ring} onChange={(ring) => onChange({ ...grey, ring })} />
          <Hint>The further out, the more that hue paints.</Hint>
          <Button
            kind="quiet"
            onClick={() => onChange({ ...grey, mix: PLAIN_GREY.mix, ring: PLAIN_GREY.ring, touches: [] })}
          >
            Plain grey, no mixture
          </Button>
        </>
      )}
    </>
  ),
  even: (even, onChange) => <SettingSlider rows={EVEN_NUMBERS} name="strength" of={even} onChange={onChange} />,
  tones: (tones, onChange) => <TonesPanel tones={tones} onChange={onChange} />,
  touch: ({ strokes }, onChange, context) => <TouchPanel strokes={strokes} onChange={onChange} context={context} />,
  specks: (specks, onChange) => (
    <>
      <SettingSlider rows={SPECK_NUMBERS} name="specksPx" of={specks} onChange={onChange} />
      <SettingSlider rows={SPECK_NUMBERS} name="holesPx" of={specks} onChange={onChange} />
    </>
  ),
  edge: (edge, onChange) => <SettingSlider rows={EDGE_NUMBERS} name="softPx" of={edge} onChange={onChange} />,
  trim: (trim, onChange) => (
    <>
      <SettingSlider rows={TRIM_NUMBERS} name="paddingPx" of={trim} onChange={onChange} />
      <Choices
        label="Shape"
        value={trim.square ? 'square' : 'mark'}
        choices={[
          { value: 'mark', label: 'as the mark' },
          { value: 'square', label: 'square' },
        ]}
        onChange={(value) => onChange({ ...trim, square: value === 'square' })}
      />
    </>
  ),
  size: (size, onChange) => (
    <>
      <Choices
        label="Fit to"
        value={canvasOf(size) as (typeof CANVASES)[number]['value']}
        choices={CANVASES}
        onChange={(value) => {
          const [width = 1024, height = 1024] = value.split(' ').map(Number)
          onChange(value === 'side' ? { fit: 'side', sidePx: 1024 } : { fit: 'canvas', width, height })
        }}
      />
      {size.fit === 'side' && <SettingSlider rows={SIZE_NUMBERS} name="sidePx" of={size} onChange={onChange} />}
      <Hint>A mark is never enlarged.</Hint>
    </>
  ),
  reading: ({ reading }, onChange) => (
    <Choices
      label="How its pixels paint"
      value={reading}
      choices={choicesOf(READING_WORDS)}
      onChange={(next) => onChange({ reading: next })}
    />
  ),
}

function TonesPanel({ tones, onChange }: { tones: Tones; onChange: (tones: Tones) => void }) {
  return (
    <>
      <RangeSlider
        label="From full paint to ground"
        unit=""
        min={0}
        max={255}
        value={{ from: tones.black, to: tones.white }}
        usual={{ from: 0, to: 255 }}
        onChange={({ from, to }) => from < to && onChange({ ...tones, black: from, white: to })}
      />
      <SettingSlider rows={TONE_NUMBERS} name="gamma" of={tones} onChange={onChange} />
      <label className="flex items-center gap-2 text-13">
        <input
          type="checkbox"
          checked={tones.invert}
          onChange={(event) => onChange({ ...tones, invert: event.target.checked })}
        />{' '}
        Turn paint and ground round
      </label>
    </>
  )
}
