import { SIZE_MAX_PX, SIZE_MIN_PX } from '@satchel/core/brush/recipe'
import { takenBy } from '@satchel/core/editions/cut'
import { type EditionPlan, POCKET_MAX } from '@satchel/core/editions/plan'
import { ArrowDown, ArrowUp, X } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { NumberBox } from '../../../components/range-slider.tsx'
import type { Choosable } from '../../../data/editions.ts'
import { BrushTicks } from './brush-ticks.tsx'

type Props = { plan: EditionPlan; from: Choosable; onChange: (plan: EditionPlan) => void }
type Place = NonNullable<EditionPlan['pocket']>[number]

/** The pocket that goes along: which brushes, in which order, at which size. */
export function FixedSizes({ plan, from, onChange }: Props) {
  const [isAdding, setAdding] = useState(false)
  const { pocket } = plan
  const set = (places: Place[]) => onChange({ ...plan, pocket: places })
  const brushOf = (id: string) => from.brushes.find((brush) => brush.id === id)
  const taken = takenBy(plan, from)
  const move = (at: number, by: number) => {
    if (!pocket) return
    const next = [...pocket]
    const [place] = next.splice(at, 1)
    if (place) next.splice(at + by, 0, place)
    set(next)
  }
  return (
    <section aria-labelledby="pocket-of" className="grid content-start gap-2">
      <h2 id="pocket-of" className="font-title text-24">
        Pocket
      </h2>
      <div className="grid gap-1" role="radiogroup" aria-label="Pocket">
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name="pocket"
            checked={pocket === null}
            onChange={() => onChange({ ...plan, pocket: null })}
          />
          As in the release ({from.pockets.length === 0 ? 'none' : from.pockets.map(({ name }) => name).join(', ')})
        </label>
        <label className="flex items-center gap-2">
          <input type="radio" name="pocket" checked={pocket !== null} onChange={() => set(firstPlaces(from, taken))} />
          One of its own, with fixed sizes
        </label>
      </div>
      {pocket && (
        <>
          <ol aria-label="Places of the pocket" className="grid gap-1">
            {pocket.map((place, at) => {
              const name = brushOf(place.brush)?.name ?? 'a brush that is gone'
              return (
                <li
                  // biome-ignore lint/suspicious/noArrayIndexKey: the same brush may have several places
                  key={`${place.brush}-${at}`}
                  className="flex items-center gap-2 rounded-6 border border-line bg-surface px-2 py-1"
                >
                  <span
                    className={`min-w-0 flex-1 truncate ${taken.has(place.brush) ? '' : 'text-quiet line-through'}`}
                  >
                    {name}
                  </span>
                  <NumberBox
                    label={`Size of ${name}, px`}
                    value={place.sizePx}
                    min={SIZE_MIN_PX}
                    max={SIZE_MAX_PX}
                    step={1}
                    onChange={(sizePx) => set(pocket.map((each, i) => (i === at ? { ...each, sizePx } : each)))}
                  />
                  <span className="text-13 text-quiet">px</span>
                  <Button kind="quiet" aria-label={`${name} up`} disabled={at === 0} onClick={() => move(at, -1)}>
                    <ArrowUp size={16} aria-hidden />
                  </Button>
                  <Button
                    kind="quiet"
                    aria-label={`${name} down`}
                    disabled={at === pocket.length - 1}
                    onClick={() => move(at, 1)}
                  >
                    <ArrowDown size={16} aria-hidden />
                  </Button>
                  <Button
                    kind="quiet"
                    aria-label={`${name} out of the pocket`}
                    onClick={() => set(pocket.filter((_, i) => i !== at))}
                  >
                    <X size={16} aria-hidden />
                  </Button>
                </li>
              )
            })}
          </ol>
          <Button className="justify-self-start" disabled={pocket.length >= POCKET_MAX} onClick={() => setAdding(true)}>
            Put brushes in
          </Button>
        </>
      )}
      <Dialog
        open={isAdding && pocket !== null}
        onOpenChange={setAdding}
        title="Brushes of the pocket"
        description="Each goes in at the size it paints with; change that afterwards."
        shape="wide"
      >
        <BrushTicks
          label="Brushes of the pocket"
          from={from}
          isTicked={(id) => pocket?.some(({ brush }) => brush === id) ?? false}
          onTick={(ids, isTicked) => {
            const those = new Set(ids)
            const rest = (pocket ?? []).filter(({ brush }) => (!isTicked ? !those.has(brush) : true))
            const there = new Set(rest.map(({ brush }) => brush))
            const more = isTicked ? ids.filter((id) => !there.has(id)) : []
            set([...rest, ...placesOf(more, from)].slice(0, POCKET_MAX))
          }}
        />
        <Button kind="primary" className="mt-3" onClick={() => setAdding(false)}>
          Done
        </Button>
      </Dialog>
    </section>
  )
}

const placesOf = (ids: readonly string[], { brushes }: Choosable): Place[] =>
  ids.flatMap((id) => {
    const brush = brushes.find((each) => each.id === id)
    return brush ? [{ brush: id, sizePx: brush.sizePx, label: '' }] : []
  })

/** What a pocket begins with: what the release's pockets hold. */
function firstPlaces(from: Choosable, taken: ReadonlySet<string>): Place[] {
  return from.pockets.flatMap(({ entries }) => entries.filter(({ brush }) => taken.has(brush))).slice(0, POCKET_MAX)
}
