import { format } from 'date-fns'
import { Download } from 'lucide-react'
import { BehaviourMark } from '../../components/behaviour-mark.tsx'
import { buttonLook } from '../../components/button.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { HelpText } from '../../components/help-text.tsx'
import type { HandOutPage } from '../../data/hand-out-page.ts'
import { toHelp } from '../../data/help.ts'

export function Pack({ page, token }: { page: HandOutPage; token: string }) {
  const brushes = new Map(page.brushes.map((brush) => [brush.id, brush]))
  const stroke = (id: string) => `/api/h/${token}/strokes/${id}`
  return (
    <>
      <title>{`${page.title} · Gentle Satchel`}</title>
      <header className="grid gap-4 rounded-10 border border-line bg-surface p-6">
        <div>
          <p className="text-quiet">For {page.forWhom}</p>
          <h1 className="pb-2 font-title text-34 leading-tight">{page.title}</h1>
          <div className="stitched" />
        </div>
        {page.hasCover && <img src={`/api/h/${token}/cover.png`} alt="" className="aspect-video w-full rounded-6" />}
        {!page.hasCover && page.coverBrushId && (
          <div className="well grid h-24 place-content-center overflow-clip">
            <img src={stroke(page.coverBrushId)} alt="" className="h-20" />
          </div>
        )}
        <p>
          {page.maker && <>Made by {page.maker}. </>}
          Release <span className="measure">{page.version}</span>, {plural(page.brushes.length, 'brush', 'brushes')} in{' '}
          {plural(page.sets.length, 'set')}.
        </p>
        {page.notes && <p className="whitespace-pre-line text-quiet">{page.notes}</p>}
        <div className="flex flex-wrap items-center gap-4">
          {page.zipBytes === null ? (
            <p role="status">The download is still being prepared; come back in a minute.</p>
          ) : (
            <a href={`/api/h/${token}/download`} download className={buttonLook('primary')}>
              <Download size={18} aria-hidden /> Download all {plural(page.brushes.length, 'brush', 'brushes')},{' '}
              {formatBytes(page.zipBytes)}
            </a>
          )}
          <span className="text-13 text-quiet">
            {page.downloadsLeft !== null && `${plural(page.downloadsLeft, 'download')} left. `}
            {page.endsAt && `Open until ${format(new Date(page.endsAt), 'd MMMM yyyy')}.`}
          </span>
        </div>
      </header>
      {page.help.length > 0 && (
        <section className="rounded-10 border border-line bg-surface p-6">
          <h2 className="mb-2 font-title text-24">From the maker</h2>
          <HelpText nodes={toHelp(page.help)} under={2} />
        </section>
      )}
      <section className="rounded-10 border border-line bg-surface p-6">
        <h2 className="mb-2 font-title text-24">What you get</h2>
        <p>
          One zip with a folder per set. Every brush is in it as a PNG picture and as an open brush file (GBR for one
          picture, GIH for several), and everything once more as a Satchel pack with all settings. README.txt inside
          says which is which; SHA256SUMS lets you check that nothing was damaged.
        </p>
        {page.destinations.length > 0 && (
          <p className="mt-2">
            For {page.destinations.join(', ')} there is a folder of its own under Apps, with a page that says what to
            press.
          </p>
        )}
        <p className="mt-2">Licence: {page.licence || 'see LICENSE.txt in the download'}.</p>
      </section>
      {page.single.length > 0 && <Brushes title="Single brushes" {...{ brushes, stroke }} ids={page.single} />}
      {page.sets.map((set) => (
        <Brushes key={set.name} title={set.name} {...{ brushes, stroke }} ids={set.brushes} />
      ))}
    </>
  )
}

type Brush = HandOutPage['brushes'][number]
type BrushesProps = {
  title: string
  ids: readonly string[]
  brushes: ReadonlyMap<string, Brush>
  stroke: (id: string) => string
}

/** Brushes of a set, or those that stand by themselves, each with its stroke and what is said of it. */
function Brushes({ title, ids, brushes, stroke }: BrushesProps) {
  return (
    <section className="grid gap-2">
      <h2 className="flex items-center gap-2.5 font-title text-24">
        <span className="eyelet" aria-hidden /> {title} <span className="measure text-quiet">{ids.length}</span>
      </h2>
      <ul className="overflow-clip rounded-10 border border-line bg-surface">
        {ids.map((id) => {
          const brush = brushes.get(id)
          if (!brush) return null
          return (
            <li
              key={id}
              className="grid grid-cols-1 items-center gap-x-3 gap-y-1 border-b border-line p-2.5 last:border-b-0 sm:grid-cols-[180px_minmax(0,1fr)_64px]"
            >
              <div>
                <span className="font-medium">{brush.name}</span>{' '}
                <span className="text-13 text-quiet">
                  <BehaviourMark behaviour={brush.behaviour} />
                </span>
                {brush.note.length > 0 && <HelpText nodes={toHelp(brush.note)} under={2} quiet />}
              </div>
              <span className="well grid h-[58px] place-content-center overflow-clip">
                <img
                  src={stroke(id)}
                  alt={`Stroke of ${brush.name}`}
                  loading="lazy"
                  decoding="async"
                  className="h-[54px] object-contain"
                />
              </span>
              <span className="measure text-quiet">
                {Math.round(brush.sizePx)} px{brush.frames > 1 && ` ×${brush.frames}`}
              </span>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
