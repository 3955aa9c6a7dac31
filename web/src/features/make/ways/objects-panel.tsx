import { BECOME_WORDS } from '@satchel/core/make/become'
import { OBJECT_NUMBERS, type Objects, ORDER_WORDS } from '@satchel/core/make/sheet/find-objects'
import { Choices, choicesOf } from '../../../components/controls.tsx'
import { plural } from '../../../components/format.ts'
import { SettingSlider } from '../../../components/number-slider.tsx'
import type { Tools } from '../steps/tools.ts'

type Props = {
  objects: Objects
  count: number
  onChange: (objects: Objects) => void
  tools: Tools
  onTools: (tools: Tools) => void
}

/** How a sheet falls into objects; on the picture they are left out, joined and cut by hand. */
export function ObjectsPanel({ objects, count, onChange, tools, onTools }: Props) {
  const set = (change: Partial<Objects>) => onChange({ ...objects, ...change })
  const byHand = objects.joined.length + objects.cuts.length + objects.leftOut.length
  return (
    <>
      <p className="font-medium" role="status">
        {plural(count, 'object')} found
      </p>
      <Choices
        label="They become"
        value={objects.become}
        choices={choicesOf(BECOME_WORDS)}
        onChange={(become) => set({ become })}
      />
      <Choices
        label="In order"
        value={objects.order}
        choices={choicesOf(ORDER_WORDS)}
        onChange={(order) => set({ order })}
      />
      <SettingSlider rows={OBJECT_NUMBERS} name="gapPx" of={objects} onChange={onChange} />
      <SettingSlider rows={OBJECT_NUMBERS} name="neck" of={objects} onChange={onChange} />
      <SettingSlider rows={OBJECT_NUMBERS} name="leastShare" of={objects} onChange={onChange} />
      <Choices
        label="By hand, on the picture"
        value={tools.objects}
        choices={[
          { value: 'leave', label: 'leave out' },
          { value: 'join', label: 'join two' },
          { value: 'cut', label: 'cut' },
        ]}
        onChange={(kind) => onTools({ ...tools, objects: kind })}
      />
      {byHand > 0 && (
        <button
          type="button"
          className="justify-self-start text-13 text-saddle underline"
          onClick={() => set({ joined: [], cuts: [], leftOut: [] })}
        >
          Take back {plural(byHand, 'change')} by hand
        </button>
      )}
    </>
  )
}
