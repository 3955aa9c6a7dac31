import { WAY_NAMES, WAYS, type Way } from '@satchel/core/make/ways'
import { useQuery } from '@tanstack/react-query'
import { ArrowLeft, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { buttonLook } from '../../../components/button.tsx'
import { plural } from '../../../components/format.ts'
import { PageTitle } from '../../../components/page-title.tsx'
import { Empty, LoadError, Loading } from '../../../components/states.tsx'
import { toast, toastError } from '../../../components/toasts.tsx'
import { useAddress } from '../../../components/use-address.ts'
import {
  addSource,
  addStack,
  binSource,
  bringBackSource,
  type Picture,
  type SourceEntry,
  sourcesQuery,
} from '../../../data/sources.ts'
import { useRefresh } from '../../../data/use-refresh.ts'
import { BeginArea } from './begin-area.tsx'
import { SourceGrid } from './source-grid.tsx'

/** The workbench: all sources, with what was made of each. */
export function Workbench({ onPhone }: { onPhone: () => void }) {
  const [search, change] = useAddress()
  const isBin = search.get('bin') === '1'
  const sources = useQuery(sourcesQuery(isBin))
  const refresh = useRefresh()
  const navigate = useNavigate()
  const [busy, setBusy] = useState<{ done: number; total: number }>()
  const find = (search.get('q') ?? '').toLowerCase()
  const way: Way = WAY_NAMES.find((each) => each === search.get('way')) ?? 'picture'
  const begin = async (pictures: Picture[]) => {
    const added: string[] = []
    // layers may come as files of their own
    const begins =
      WAYS[way].stacks && pictures.length > 1
        ? [() => addStack(pictures, way)]
        : pictures.map((picture) => () => addSource(picture, way))
    for (const [done, add] of begins.entries()) {
      setBusy({ done, total: begins.length })
      try {
        added.push((await add()).id)
      } catch (error) {
        toastError(error)
      }
    }
    setBusy(undefined)
    await refresh('sources')
    if (added.length === 1 && begins.length === 1) await navigate(`/make/${added[0]}`)
  }
  const bringBack = async (id: string) => {
    try {
      await bringBackSource(id)
      await refresh('sources')
    } catch (error) {
      toastError(error)
    }
  }
  const bin = async ({ id, name }: SourceEntry) => {
    try {
      await binSource(id)
      await refresh('sources')
      toast(`"${name}" lies in the bin; what was made of it stays.`, {
        action: { label: 'Undo', run: () => void bringBack(id) },
      })
    } catch (error) {
      toastError(error)
    }
  }
  const all = sources.data?.sources ?? []
  const found = all.filter(({ name }) => name.toLowerCase().includes(find))
  return (
    <div className="px-6 pb-8 pt-5">
      <title>Make · Gentle Satchel</title>
      <PageTitle
        note={sources.data && (isBin ? `${plural(all.length, 'source')} in the bin` : plural(all.length, 'source'))}
        aside={
          <>
            <Link to={isBin ? '/make' : '/make?bin=1'} className={buttonLook('quiet')}>
              {isBin ? <ArrowLeft size={18} aria-hidden /> : <Trash2 size={18} aria-hidden />}
              {isBin ? 'Back to the workbench' : 'Bin'}
            </Link>
            <input
              type="search"
              aria-label="Find sources"
              placeholder="find"
              value={search.get('q') ?? ''}
              onChange={(event) => change({ q: event.target.value })}
              className="rounded-4 border border-line bg-raised px-2.5 py-1.5"
            />
          </>
        }
      >
        Make
      </PageTitle>
      {!isBin && (
        <BeginArea
          way={way}
          onWay={(value) => change({ way: value === 'picture' ? '' : value })}
          onFiles={(files) => void begin(files.map((file) => ({ file })))}
          onPicture={(picture) => void begin([picture])}
          onPhone={onPhone}
          large={sources.isSuccess && all.length === 0}
          busy={busy}
        />
      )}
      {sources.isPending && <Loading what="the workbench" />}
      {sources.isError && <LoadError error={sources.error} onRetry={() => void sources.refetch()} />}
      {sources.isSuccess && all.length === 0 && isBin && (
        <Empty title="Nothing lies in the bin">What is put there stays for thirty days and can be brought back.</Empty>
      )}
      {sources.isSuccess && all.length === 0 && !isBin && (
        <p className="mx-auto max-w-prose text-center text-quiet">
          A photograph, scan or drawing becomes a tip here: its ground is lifted away and what is dark becomes paint.
          The picture and every step stay, so that any of it can be changed later.
        </p>
      )}
      {all.length > 0 && found.length === 0 && (
        <p className="py-10 text-center text-quiet">No source is called like that.</p>
      )}
      {found.length > 0 && (
        <SourceGrid
          sources={found}
          {...(isBin ? { onBringBack: ({ id }) => void bringBack(id) } : { onBin: (source) => void bin(source) })}
        />
      )}
    </div>
  )
}
