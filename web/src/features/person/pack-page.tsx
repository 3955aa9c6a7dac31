import { format } from 'date-fns'
import { Brush, Download } from 'lucide-react'
import { Suspense, useCallback, useMemo, useRef, useState } from 'react'
import { Button, buttonLook } from '../../components/button.tsx'
import { fetched } from '../../components/fetched.tsx'
import { plural } from '../../components/format.ts'
import { HelpText } from '../../components/help-text.tsx'
import { Loading } from '../../components/states.tsx'
import { fetchTried, type HandOutPage } from '../../data/hand-out-page.ts'
import { toHelp } from '../../data/help.ts'
import { Brushes } from './brushes.tsx'
import { GetFiles, useTaker } from './get-files.tsx'
import { Lessons } from './lessons.tsx'

// what paints is fetched when somebody wants to paint, and what shows a brush when one is opened
const TryPad = fetched(async () => ({ default: (await import('../../pad/try-pad.tsx')).TryPad }))
const BrushDialog = fetched(async () => ({ default: (await import('./brush-dialog.tsx')).BrushDialog }))

/** The brushes of a pack, each once, in its order. */
function orderOf({ brushes, single, sets }: HandOutPage) {
  const byId = new Map(brushes.map((brush) => [brush.id, brush]))
  const ids = [...new Set([...single, ...sets.flatMap((set) => set.brushes)])]
  return ids.flatMap((id) => byId.get(id) ?? [])
}

export function Pack({ page, token }: { page: HandOutPage; token: string }) {
  // a link that follows gives other pictures with a newer release
  const picture = (path: string) => `/api/h/${token}/${path}?of=${encodeURIComponent(page.version)}`
  const stroke = (id: string) => picture(`strokes/${id}`)
  const news = newsFor(page)
  const [isTrying, setTrying] = useState(false)
  const [held, setHeld] = useState(firstOf(page))
  const [opened, setOpened] = useState<string>()
  const openedBrush = page.brushes.find(({ id }) => id === opened)
  const taker = useTaker(page)
  const pad = useRef<HTMLElement>(null)
  const fetchBrush = useCallback((id: string) => fetchTried(token, id, page.version), [token, page.version])
  const inOrder = useMemo(() => orderOf(page), [page])
  const tryBrush = (id: string) => {
    setHeld(id)
    setTrying(true)
    // once it is there
    requestAnimationFrame(() => pad.current?.scrollIntoView({ block: 'start' }))
  }
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
          Release <span className="measure">{page.version}</span>
          {page.brushes.length > 0 &&
            `, ${plural(page.brushes.length, 'brush', 'brushes')}${page.sets.length > 0 ? ` in ${plural(page.sets.length, 'set')}` : ''}`}
          .
        </p>
        {news && <p role="status">{news}</p>}
        {page.isLook && (
          <p className="rounded-6 border border-amber bg-raised px-3 py-2 text-13">
            This is how it looks to them; nothing is fetched from here, and nobody is counted.
          </p>
        )}
        {page.notes && <p className="whitespace-pre-line text-quiet">{page.notes}</p>}
        <div className="flex flex-wrap items-center gap-4 print:hidden" hidden={page.files === 'nothing'}>
          <Button kind="primary" onClick={() => tryBrush(held)}>
            <Brush size={18} aria-hidden /> Try the brushes
          </Button>
          <a href="#get" className={buttonLook()}>
            <Download size={18} aria-hidden /> Get the brushes
          </a>
          <span className="text-13 text-quiet">
            {page.downloadsLeft !== null && `${plural(page.downloadsLeft, 'download')} left. `}
            {page.endsAt && `Open until ${format(new Date(page.endsAt), 'd MMMM yyyy')}.`}
          </span>
        </div>
      </header>
      {isTrying && (
        <section
          ref={pad}
          aria-labelledby="try"
          className="grid grid-cols-[minmax(0,1fr)] gap-3 rounded-10 border border-line bg-surface p-6 print:hidden"
        >
          <h2 id="try" className="font-title text-24">
            Paint with them here
          </h2>
          <Suspense fallback={<Loading what="a sheet of paper" />}>
            <TryPad title={page.title} brushes={inOrder} {...{ stroke, fetchBrush, held }} onHold={setHeld} />
          </Suspense>
        </section>
      )}
      {page.course && <Lessons course={page.course} brushes={page.brushes} onOpen={setOpened} />}
      <Brushes page={page} stroke={stroke} onOpen={setOpened} />
      {page.files !== 'nothing' && <GetFiles page={page} token={token} />}
      {page.help.length > 0 && (
        <section className="rounded-10 border border-line bg-surface p-6">
          <h2 className="mb-2 font-title text-24">From the maker</h2>
          <HelpText nodes={toHelp(page.help)} under={2} />
        </section>
      )}
      <section className="rounded-10 border border-line bg-surface p-6">
        <h2 className="mb-2 font-title text-24">What you get</h2>
        <p>
          All of it is one zip
          {page.open === null
            ? ', with everything as'
            : ' with a folder per set. Every brush is in it as a PNG picture and as an open brush file (GBR for one picture, GIH for several), and everything once more as'}{' '}
          a Satchel pack with all settings. README.txt inside says which is which; SHA256SUMS lets you check that
          nothing was damaged, also where you take a part.
        </p>
        {page.apps.length > 0 && (
          <p className="mt-2">
            For {page.apps.map(({ name }) => name).join(', ')} there is a folder of its own under Apps, with a page that
            says what to press.
          </p>
        )}
        <p className="mt-2">Licence: {page.licence || 'see LICENSE.txt in the download'}.</p>
        <p className="mt-2 text-13 text-quiet">
          What you fetch is your own copy: its texts and pictures say that it was issued to {page.forWhom}, beside the
          paint, never in it. The maker sees that this link was used, when, for which app and of which release; nothing
          else of you is kept.
        </p>
      </section>
      {openedBrush && (
        <Suspense>
          <BrushDialog
            {...{ page, token, picture, taker }}
            brush={openedBrush}
            onTry={() => {
              setOpened(undefined)
              tryBrush(openedBrush.id)
            }}
            onClose={() => setOpened(undefined)}
          />
        </Suspense>
      )}
    </>
  )
}

/** The brush that stands for the pack, else its first. */
const firstOf = ({ coverBrushId, brushes }: HandOutPage): string =>
  brushes.find(({ id }) => id === coverBrushId)?.id ?? brushes[0]?.id ?? ''

/** What is new for somebody who was here before. */
function newsFor({ fetchedVersion, version, follows, course }: HandOutPage): string | undefined {
  const opened = course?.lessons.filter(({ isNew }) => isNew).map(({ title }) => title) ?? []
  if (opened.length > 0) return `Opened since you fetched something last: ${opened.join(', ')}.`
  if (fetchedVersion !== null && fetchedVersion !== version)
    return `You have fetched ${fetchedVersion} before; this is ${version}. What is new in it:`
  return follows && fetchedVersion === null ? 'When a newer release is out, this link gives it.' : undefined
}
