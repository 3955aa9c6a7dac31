import { type Ornament, USUAL_ORNAMENT } from '@satchel/core/make/ornament/repeat-around'
import { Slider } from '../../../components/controls.tsx'

/** How a shape is mirrored and repeated around a middle. */
export function OrnamentPanel({ ornament, onChange }: { ornament: Ornament; onChange: (ornament: Ornament) => void }) {
  const set = (change: Partial<Ornament>) => onChange({ ...ornament, ...change })
  const usual = USUAL_ORNAMENT
  return (
    <>
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          checked={ornament.mirror}
          onChange={(event) => set({ mirror: event.target.checked })}
          className="h-6 w-6 shrink-0"
        />
        <span>
          The picture is the left half
          <span className="block text-13 text-quiet">its mirror image is laid to the right of it</span>
        </span>
      </label>
      <Slider
        label="How many"
        value={ornament.count}
        usual={usual.count}
        min={1}
        max={72}
        eased
        unit=""
        onChange={(count) => set({ count: Math.round(count) })}
      />
      <Slider
        label="Away from the middle"
        value={Math.round(ornament.radius * 100)}
        usual={usual.radius * 100}
        min={-100}
        max={300}
        unit="%"
        onChange={(percent) => set({ radius: percent / 100 })}
      />
      <Slider
        label="Width"
        value={Math.round(ornament.stretch * 100)}
        usual={100}
        min={10}
        max={400}
        eased
        unit="%"
        onChange={(percent) => set({ stretch: percent / 100 })}
      />
      <Slider
        label="First one points"
        value={ornament.startDeg}
        usual={0}
        min={-180}
        max={180}
        unit="°"
        onChange={(startDeg) => set({ startDeg })}
      />
      <Slider
        label="Drawn at"
        value={ornament.sidePx}
        usual={usual.sidePx}
        min={64}
        max={4096}
        eased
        unit="px"
        onChange={(px) => set({ sidePx: Math.round(px) })}
      />
    </>
  )
}
