import { ORNAMENT_NUMBERS, type Ornament } from '@satchel/core/make/ornament/repeat-around'
import { SettingSlider } from '../../../components/number-slider.tsx'

/** How a shape is mirrored and repeated around a middle. */
export function OrnamentPanel({ ornament, onChange }: { ornament: Ornament; onChange: (ornament: Ornament) => void }) {
  return (
    <>
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          checked={ornament.mirror}
          onChange={(event) => onChange({ ...ornament, mirror: event.target.checked })}
          className="h-6 w-6 shrink-0"
        />
        <span>
          The picture is the left half
          <span className="block text-13 text-quiet">its mirror image is laid to the right of it</span>
        </span>
      </label>
      <SettingSlider rows={ORNAMENT_NUMBERS} name="count" of={ornament} onChange={onChange} />
      <SettingSlider rows={ORNAMENT_NUMBERS} name="radius" of={ornament} onChange={onChange} />
      <SettingSlider rows={ORNAMENT_NUMBERS} name="stretch" of={ornament} onChange={onChange} />
      <SettingSlider rows={ORNAMENT_NUMBERS} name="startDeg" of={ornament} onChange={onChange} />
      <SettingSlider rows={ORNAMENT_NUMBERS} name="sidePx" of={ornament} onChange={onChange} />
    </>
  )
}
