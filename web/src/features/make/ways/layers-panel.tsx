import type { Layers } from '@satchel/core/make/ways'
import { Choices } from '../../../components/controls.tsx'
import { plural } from '../../../components/format.ts'
import type { ShownLayer } from '../../../workers/make/protocol.ts'

type Props = {
  plan: Layers
  layers: readonly ShownLayer[]
  /** The place among the chosen ones that is tried. */
  part: number
  onPart: (part: number) => void
  onChange: (layers: Layers) => void
}

/** Which layers become tips, or frames; hidden ones are listed, and count only where they are chosen. */
export function LayersPanel({ plan, layers, part, onPart, onChange }: Props) {
  const hidden = layers.filter(({ isHidden }) => isHidden).length
  const choose = (place: number, isChosen: boolean) => {
    const others = plan.chosen.filter((each) => each !== place)
    onChange({ ...plan, chosen: isChosen ? [...others, place].sort((a, b) => a - b) : others })
  }
  return (
    <>
      <Choices
        label="They become"
        value={plan.become}
        choices={[
          { value: 'frames', label: 'frames of one' },
          { value: 'tips', label: 'a tip each' },
          { value: 'strips', label: 'a strip each' },
        ]}
        onChange={(become) => onChange({ ...plan, become })}
      />
      {hidden > 0 && (
        <p className="text-13 text-amber">
          {plural(hidden, 'layer is', 'layers are')} hidden in the file, and left out unless you choose them.
        </p>
      )}
      <ul aria-label="Layers, topmost first" className="grid gap-1">
        {layers.map(({ name, within, isHidden, width, height }, place) => {
          const at = plan.chosen.indexOf(place)
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: layers may share a name; their place is what they are
            <li key={place} className="flex items-center gap-2">
              <input
                type="checkbox"
                aria-label={`${name || `layer ${place + 1}`} counts`}
                checked={at >= 0}
                onChange={(event) => choose(place, event.target.checked)}
                className="h-6 w-6 shrink-0"
              />
              <button
                type="button"
                disabled={at < 0}
                aria-pressed={at >= 0 && at === part}
                onClick={() => onPart(at)}
                className={`min-w-0 flex-1 rounded-4 px-1.5 py-1 text-left leading-tight hover:bg-raised ${at >= 0 && at === part ? 'bg-raised text-saddle' : ''}`}
              >
                <span className="block truncate">{[...within, name || `layer ${place + 1}`].join(' / ')}</span>
                <span className="text-12 text-quiet">
                  <span className="measure">{`${width} × ${height}`}</span>
                  {isHidden && ', hidden'}
                </span>
              </button>
            </li>
          )
        })}
      </ul>
    </>
  )
}
