import { ArrowLeft } from 'lucide-react'
import { Link } from 'react-router'
import { buttonLook } from '../../components/button.tsx'
import { ColourChoice, fromHex, toHex } from '../../components/colour-choice.tsx'
import { PageTitle } from '../../components/page-title.tsx'
import { Empty } from '../../components/states.tsx'
import { useAddress } from '../../components/use-address.ts'
import { CompareRow } from './canvas/compare-row.tsx'
import { Toggle } from './canvas/view-bar.tsx'

const COMPARED_MAX = 6
const PAPER_GREY = 250
const INK = '#181818'
const SAME_SIZE = 48

/** Two to six brushes on the same stroke, one under the other; everything that is chosen here is in the address. */
export function ComparePage({ onPin }: { onPin: (ids: string[]) => void }) {
  const [search, change] = useAddress()
  const ids = (search.get('ids') ?? '').split(',').filter(Boolean).slice(0, COMPARED_MAX)
  const size = search.get('size')
  const sizePx = size === null ? undefined : Math.min(400, Math.max(1, Number(size) || SAME_SIZE))
  const grey = Math.min(255, Math.max(0, Number(search.get('grey') ?? PAPER_GREY) || 0))
  const colour = fromHex(/^#[0-9a-f]{6}$/.test(search.get('colour') ?? '') ? (search.get('colour') ?? INK) : INK)
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Compare · Gentle Satchel</title>
      <PageTitle
        note={`${ids.length} of up to ${COMPARED_MAX}`}
        aside={
          <Link to="/sort" className={buttonLook()}>
            <ArrowLeft size={18} aria-hidden /> Brushes
          </Link>
        }
      >
        Compare
      </PageTitle>
      <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2 text-13">
        <fieldset className="flex items-center gap-1">
          <legend className="sr-only">Size</legend>
          <Toggle on={sizePx === undefined} onChange={() => change({ size: undefined })}>
            Own sizes
          </Toggle>
          <Toggle on={sizePx !== undefined} onChange={() => change({ size: SAME_SIZE })}>
            Same size
          </Toggle>
          {sizePx !== undefined && (
            <label className="ml-2 flex items-center gap-2">
              <input
                type="range"
                min={4}
                max={96}
                value={sizePx}
                aria-label="Size of all"
                onChange={(event) => change({ size: event.target.value })}
                className="w-32"
              />
              <span className="measure">{sizePx} px</span>
            </label>
          )}
        </fieldset>
        <ColourChoice colour={colour} onColour={(next) => change({ colour: toHex(next) })} />
        <label className="flex items-center gap-2">
          Backdrop of all
          <input
            type="range"
            min={0}
            max={255}
            value={grey}
            aria-valuetext={`grey ${Math.round((grey / 255) * 100)} %`}
            onChange={(event) => change({ grey: event.target.value })}
            className="w-40"
          />
          <span className="measure w-12">{Math.round((grey / 255) * 100)} %</span>
        </label>
      </div>
      {ids.length === 0 ? (
        <Empty
          title="Nothing to compare"
          action={
            <Link to="/sort" className={buttonLook('primary')}>
              Choose brushes
            </Link>
          }
        >
          Choose two to six brushes under Sort, then “Compare”: they paint the same stroke, one under the other.
        </Empty>
      ) : (
        ids.map((id) => (
          <CompareRow
            key={id}
            id={id}
            sizePx={sizePx}
            colour={colour}
            grey={grey}
            onPin={() => onPin([id])}
            onLeave={() => change({ ids: ids.filter((each) => each !== id).join(',') })}
          />
        ))
      )}
    </div>
  )
}
