import { format } from 'date-fns'
import { Brush, Download } from 'lucide-react'
import { Suspense, useState } from 'react'
import { BehaviourMark } from '../../components/behaviour-mark.tsx'
import { Button, buttonLook } from '../../components/button.tsx'
import { fetched } from '../../components/fetched.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { HelpText } from '../../components/help-text.tsx'
import { Loading } from '../../components/states.tsx'
import type { HandOutPage } from '../../data/hand-out-page.ts'
import { toHelp } from '../../data/help.ts'

// what paints is fetched when somebody wants to paint
const TryPad = fetched(async () => ({ default: (await import('./try-pad.tsx')).TryPad }))

export function Pack({ page, token }: { page: HandOutPage; token: string }) {
  const brushes = new Map(page.brushes.map((brush) => [brush.id, brush]))
  // a link that follows gives other pictures with a newer release
  const picture = (path: string) => `/api/h/${token}/${path}?of=${encodeURIComponent(page.version)}`
  const stroke = (id: string) => picture(`strokes/${id}`)
  const news = newsFor(page)
  const [isTrying, setTrying] = useState(false)
  return (
    <>
      <title>{`${page.title} · Gentle Satchel`}</title>
      <header className="grid gap-4 rounded-10 border border-line bg-surface p-6">
        <div>
          <p className="text-quiet">For {page.forWhom}</p>
          <h1 className="pb-2 font-title text-34 leading-tight">{page.title}</h1>
          <div className="stitched" />
        </div>
        {page.hasCover && <img src={picture('cover.png')} alt="" className="aspect-video w-full rounded-6" />}
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
        {news && <p role="status">{news}</p>}
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
      <section
        aria-labelledby="try"
        className="grid grid-cols-[minmax(0,1fr)] gap-3 rounded-10 border border-line bg-surface p-6"
      >
        <h2 id="try" className="font-title text-24">
          Paint with them here
        </h2>
        {isTrying ? (
          <Suspense fallback={<Loading what="a sheet of paper" />}>
            <TryPad token={token} page={page} stroke={stroke} />
          </Suspense>
        ) : (
          <div className="flex flex-wrap items-center gap-4">
            <Button kind="primary" onClick={() => setTrying(true)}>
              <Brush size={18} aria-hidden /> Try the brushes
            </Button>
            <span className="text-quiet">On a sheet of paper in this page, with a pen, a finger or a mouse.</span>
          </div>
        )}
      </section>
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

/** What is new for somebody who was here before. */
function newsFor({ fetchedVersion, version, follows }: HandOutPage): string | undefined {
  if (fetchedVersion !== null && fetchedVersion !== version)
    return `You have fetched ${fetchedVersion} before; this is ${version}. What is new in it:`
  return follows && fetchedVersion === null ? 'When a newer release is out, this link gives it.' : undefined
}

type PackBrush = HandOutPage['brushes'][number]
type BrushesProps = {
  title: string
  ids: readonly string[]
  brushes: ReadonlyMap<string, PackBrush>
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
