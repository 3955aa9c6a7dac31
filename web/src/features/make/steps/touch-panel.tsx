import { TOUCH_WORDS, type TouchUp } from '@satchel/core/make/steps/touch'
import { Choices, choicesOf, Slider } from '../../../components/controls.tsx'
import { plural } from '../../../components/format.ts'
import type { PanelContext } from './panel-context.ts'

/** What strokes on the picture do, and with which tip. */
export function TouchPanel({
  strokes,
  onChange,
  context: { tools, onTools, onTip, sourceWidth },
}: TouchUp & { onChange: (touch: TouchUp) => void; context: PanelContext }) {
  const { touch } = tools
  return (
    <>
      <Choices
        label="Strokes on the picture"
        value={touch.does}
        choices={choicesOf(TOUCH_WORDS)}
        onChange={(does) => onTools({ ...tools, touch: { ...touch, does } })}
      />
      <Slider
        label="Radius"
        value={touch.radiusPx}
        usual={Math.max(2, Math.round(sourceWidth / 60))}
        min={1}
        max={Math.max(20, Math.round(sourceWidth / 6))}
        eased
        unit="px"
        onChange={(radiusPx) => onTools({ ...tools, touch: { ...touch, radiusPx } })}
      />
      <p className="flex items-center justify-between gap-2 text-13">
        <span className="min-w-0 truncate">
          {tools.tip ? `with the tip of "${tools.tip.name}"` : 'with a round tip'}
        </span>
        <button type="button" className="shrink-0 text-saddle underline" onClick={onTip}>
          Another tip
        </button>
      </p>
      <Slider
        label="Soft edge"
        value={Math.round(touch.soft * 100)}
        usual={30}
        min={0}
        max={100}
        unit="%"
        idle={tools.tip && 'A tip has its own edge.'}
        onChange={(percent) => onTools({ ...tools, touch: { ...touch, soft: percent / 100 } })}
      />
      <p className="flex items-center justify-between text-13 text-quiet">
        {plural(strokes.length, 'stroke')}
        {strokes.length > 0 && (
          <button type="button" className="text-saddle underline" onClick={() => onChange({ strokes: [] })}>
            Take all away
          </button>
        )}
      </p>
    </>
  )
}
