import type { Objects } from '@satchel/core/make/sheet/find-objects'
import { Choices, Slider } from '../../../components/controls.tsx'
import { plural } from '../../../components/format.ts'
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
        choices={[
          { value: 'tips', label: 'a tip each' },
          { value: 'frames', label: 'frames of one' },
        ]}
        onChange={(become) => set({ become })}
      />
      <Choices
        label="In order"
        value={objects.order}
        choices={[
          { value: 'rows', label: 'of rows' },
          { value: 'size', label: 'of size' },
        ]}
        onChange={(order) => set({ order })}
      />
      <Slider
        label="Together over a gap of"
        value={objects.gapPx}
        usual={0}
        min={0}
        max={200}
        eased
        unit="px"
        onChange={(px) => set({ gapPx: Math.round(px) })}
      />
      <Slider
        label="Cut necks up to"
        value={Math.round(objects.neck * 100)}
        usual={62}
        min={0}
        max={100}
        unit="%"
        onChange={(percent) => set({ neck: percent / 100 })}
      />
      <Slider
        label="Leave out below"
        value={Math.round(objects.leastShare * 100)}
        usual={2}
        min={0}
        max={100}
        eased
        unit="%"
        onChange={(percent) => set({ leastShare: percent / 100 })}
      />
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
