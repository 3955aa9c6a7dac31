import { useMutation, useQuery } from '@tanstack/react-query'
import { Brush } from 'lucide-react'
import { Suspense, useCallback, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { Button } from '../../components/button.tsx'
import { fetched } from '../../components/fetched.tsx'
import { formatBytes, plural } from '../../components/format.ts'
import { Loading } from '../../components/states.tsx'
import { toast, toastError } from '../../components/toasts.tsx'
import {
  alikeHereQuery,
  type ExchangePage,
  exchangePicture,
  fetchFromExchange,
  takeItem,
} from '../../data/exchanges.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const TryPad = fetched(async () => ({ default: (await import('../../pad/try-pad.tsx')).TryPad }))

/** One collection: its brushes beside what the library has, tried before anything is taken; one, some or all are taken. */
export function ItemView({ host, page }: { host: string; page: ExchangePage }) {
  const navigate = useNavigate()
  const refresh = useRefresh()
  const [held, setHeld] = useState<string>()
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const { id: item, title, version, brushes, releases } = page
  const take = useMutation({
    mutationFn: (only: string[] | null) => takeItem(host, item, { version, only }),
    onSuccess: async () => {
      await refresh('gather', 'exchange', 'exchange-item')
      toast(`"${title}" ${version} lies in Gather.`)
      await navigate('/gather')
    },
    onError: toastError,
  })
  const pad = useRef<HTMLElement>(null)
  const tryBrush = (id: string) => {
    setHeld(id)
    // once it is there
    requestAnimationFrame(() => pad.current?.scrollIntoView({ block: 'nearest' }))
  }
  const alike = useQuery(alikeHereQuery(host, item))
  const looksLike = new Map(alike.data?.alike.map(({ id, name }) => [id, name]))
  const fetchBrush = useCallback((id: string) => fetchFromExchange(host, item, id), [host, item])
  const strokes = new Map(brushes.map(({ id, stroke }) => [id, stroke]))
  const toggle = (id: string) =>
    setChosen((now) => (now.has(id) ? new Set([...now].filter((each) => each !== id)) : new Set([...now, id])))
  const newest = releases[0]
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      <section className="grid gap-2 rounded-10 border border-line bg-surface p-4">
        <p>{page.about}</p>
        <p className="text-13 text-quiet">
          By {page.maker}, {page.licence ? `under ${page.licence}` : 'who says nothing of a licence'}. Release{' '}
          <span className="measure">{version}</span>
          {newest && `, ${formatBytes(newest.sizeBytes)}`}
          {page.had && `; ${page.had === version ? 'this one is' : `${page.had} is`} here already`}.
        </p>
        <p className="text-13 text-quiet">
          Signed by the key <span className="measure break-all">{page.signer}</span>
        </p>
        {forbids(page.licence) && (
          <p className="text-13">
            <strong>{page.licence}</strong> {forbids(page.licence)} The check list says so, too, before a pack of yours
            with it is released.
          </p>
        )}
        <div className="flex flex-wrap gap-2">
          <Button kind="primary" disabled={take.isPending} onClick={() => take.mutate(null)}>
            {page.had && page.had !== version
              ? `Take ${version} in as a newer release`
              : `Take all ${plural(brushes.length, 'brush', 'brushes')}`}
          </Button>
          {chosen.size > 0 && (
            <Button disabled={take.isPending} onClick={() => take.mutate([...chosen])}>
              Take {plural(chosen.size, 'chosen brush', 'chosen brushes')}
            </Button>
          )}
        </div>
      </section>
      {held !== undefined && (
        <section
          ref={pad}
          aria-labelledby="try"
          className="grid grid-cols-[minmax(0,1fr)] gap-3 rounded-10 border border-line bg-surface p-4"
        >
          <h2 id="try" className="font-title text-20">
            Paint with them here
          </h2>
          <Suspense fallback={<Loading what="a sheet of paper" />}>
            <TryPad
              title={title}
              brushes={brushes}
              stroke={(id) => exchangePicture(host, strokes.get(id) ?? '/')}
              fetchBrush={fetchBrush}
              held={held}
              onHold={setHeld}
            />
          </Suspense>
        </section>
      )}
      {alike.isPending && (
        <p role="status" className="text-13 text-quiet">
          Looking what of the library is like these …
        </p>
      )}
      <ul aria-label="Brushes" className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
        {brushes.map(({ id, name, stroke, sizePx, frames, here }) => (
          <li key={id} className="grid grid-cols-[minmax(0,1fr)] gap-2 rounded-10 border border-line bg-surface p-3">
            <span className="grid h-24 place-content-center overflow-clip rounded-4 border border-line bg-white">
              <img
                src={exchangePicture(host, stroke)}
                alt={`Stroke of ${name}`}
                loading="lazy"
                decoding="async"
                className="max-h-22"
              />
            </span>
            <div className="flex items-center justify-between gap-2">
              <label className="flex min-w-0 items-center gap-2">
                <input type="checkbox" checked={chosen.has(id)} onChange={() => toggle(id)} />
                <span className="truncate">{name}</span>
              </label>
              <Button aria-label={`Try ${name}`} onClick={() => tryBrush(id)}>
                <Brush size={18} aria-hidden /> Try
              </Button>
            </div>
            <p className="text-13 text-quiet">
              <span className="measure">{sizePx} px</span>
              {frames > 1 && `, ${plural(frames, 'frame')}`}
              {here && <strong className="text-ink">. Here already as “{here.name}”</strong>}
              {!here && looksLike.has(id) && (
                <strong className="text-ink">. Looks like “{looksLike.get(id)}”, which is here</strong>
              )}
            </p>
          </li>
        ))}
      </ul>
      {releases.length > 1 && (
        <section aria-labelledby="releases-there">
          <h2 id="releases-there" className="font-title text-20">
            Releases
          </h2>
          <ul className="text-13">
            {releases.map((release) => (
              <li key={release.version} className="flex gap-3">
                <span className="measure w-16">{release.version}</span>
                <span className="w-24 text-quiet">{release.date.slice(0, 10)}</span>
                <span>{release.notes}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}

/** What a licence does not allow, where its name says so: Creative Commons names it by letters. */
function forbids(licence: string): string | undefined {
  const [isNc, isNd] = [/\bNC\b/.test(licence), /\bND\b/.test(licence)]
  if (isNc && isNd) return 'lets nobody earn by them, nor pass on what they changed.'
  if (isNc) return 'lets nobody earn by them.'
  return isNd ? 'lets nobody pass on what they changed of them.' : undefined
}
