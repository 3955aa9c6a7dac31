import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { plural } from '../../components/format.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { destinationsQuery } from '../../data/fit.ts'
import { folderQuery, foundStroke, type InstallEntry, wholeFolderQuery } from '../../data/installs.ts'
import { AppFolder } from './app-folder.tsx'
import { AppSheet } from './app-sheet.tsx'

/** The simulated app: its own folder, and what it paints with the brushes it has found there. Its looks are its own. */
export function AppPage({ standIn }: { standIn: NonNullable<InstallEntry['standIn']> }) {
  const destinations = useQuery(destinationsQuery).data?.destinations
  const described = destinations?.find(({ id }) => id === standIn)?.description
  const folder = useQuery(folderQuery(standIn))
  const isCutShort = folder.data?.isWhole === false
  const whole = useQuery(wholeFolderQuery(standIn, isCutShort))
  const found = isCutShort ? (whole.data ?? folder.data) : folder.data
  const [takenPath, setTakenPath] = useState<string>()
  // until one is taken up, the first lies at hand
  const brushes = found?.brushes ?? []
  const taken = brushes.find(({ path }) => path === takenPath) ?? brushes[0]
  return (
    <div className="min-h-[80dvh] bg-[#e4e6e2] p-6 text-[#202421]">
      <title>{`${described?.name ?? 'An app'} (simulated) · Gentle Satchel`}</title>
      <header className="mb-5 flex flex-wrap items-baseline justify-between gap-3 border-b-4 border-double border-[#6b726c] pb-2">
        <h1 className="text-24 font-bold uppercase tracking-widest">{described?.name}</h1>
        <p className="text-13">
          a simulated app, version {described?.appVersion}.{' '}
          <Link to="/fit/installs" className="underline">
            Back to Gentle Satchel
          </Link>
        </p>
      </header>
      <p className="mb-5 max-w-prose">{described?.about}</p>
      {folder.isPending && <Loading what="its folder" />}
      {folder.isError && <LoadError error={folder.error} onRetry={() => void folder.refetch()} />}
      {folder.data && (
        <div className="grid gap-6 lg:grid-cols-[minmax(0,1fr)_320px]">
          <section aria-label="Brushes that it has found">
            {taken && <AppSheet standIn={standIn} brush={taken} version={folder.dataUpdatedAt} />}
            <h2 className="mb-3 font-bold" role="status">
              {plural(brushes.length, 'brush', 'brushes')} found{found?.isWhole === false && ' so far, looking on …'}
            </h2>
            {whole.isError && <LoadError error={whole.error} onRetry={() => void whole.refetch()} />}
            {brushes.length === 0 && <p>Its folder holds nothing that it can paint with.</p>}
            <ul className="grid gap-4 sm:grid-cols-2">
              {brushes.map(({ path, name, frames, files }) => (
                <li key={path} className="border border-[#8a918b] bg-[#f7f7f7] p-2">
                  <button
                    type="button"
                    aria-pressed={path === taken?.path}
                    onClick={() => setTakenPath(path)}
                    className="block w-full text-left aria-pressed:outline aria-pressed:outline-2 aria-pressed:outline-offset-2 aria-pressed:outline-[#202421]"
                  >
                    <img
                      src={foundStroke(standIn, { path, files }, folder.dataUpdatedAt)}
                      alt={`Strokes of ${name}`}
                      width={480}
                      height={300}
                      loading="lazy"
                      className="h-auto w-full"
                    />
                    <p className="truncate text-13 font-bold">{name}</p>
                    <p className="truncate text-12">
                      {path}
                      {frames > 1 && `, ${frames} pictures`}
                    </p>
                  </button>
                </li>
              ))}
            </ul>
          </section>
          <AppFolder
            standIn={standIn}
            name={described?.name ?? ''}
            appVersion={described?.appVersion ?? ''}
            files={folder.data.files}
            ignored={found?.ignored ?? []}
          />
        </div>
      )}
    </div>
  )
}
