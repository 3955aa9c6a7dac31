import type { StandInName } from '@satchel/core/destinations/destination'
import { byPath } from '@satchel/core/names'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { plural } from '../../components/format.ts'
import { toast, toastError } from '../../components/toasts.tsx'
import { moveFolder } from '../../data/loose-ends.ts'
import { useRefresh } from '../../data/use-refresh.ts'

type Props = {
  standIn: StandInName
  name: string
  appVersion: string
  files: readonly { path: string; sizeBytes: number }[]
  ignored: readonly { path: string; why: string }[]
}

/** The folder of a simulated app, and what happens to such folders: a new version, another name. */
export function AppFolder({ standIn, name, appVersion, files, ignored }: Props) {
  const refresh = useRefresh()
  const folders = foldersOf(files.map(({ path }) => path))
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const move = useMutation({
    mutationFn: (names: { from: string; to: string }) => moveFolder(standIn, names.from, names.to),
    onSuccess: ({ moved }, names) => {
      toast(`${plural(moved, 'file')} now ${moved === 1 ? 'lies' : 'lie'} in "${names.to}".`)
      setFrom('')
      setTo('')
    },
    onError: toastError,
    onSettled: () => Promise.all([refresh('fit'), refresh('tally')]),
  })
  const versioned = folders.find((folder) => versionOf(folder, name) !== undefined)
  const next = versioned === undefined ? undefined : `${name} ${(versionOf(versioned, name) ?? 0) + 1}`
  return (
    <section aria-label="Its folder">
      <h2 className="mb-3 font-bold">{plural(files.length, 'file')} in its folder</h2>
      <ul className="measure grid max-h-[420px] gap-0.5 overflow-y-auto text-12">
        {files.map(({ path, sizeBytes }) => (
          <li key={path} className="flex justify-between gap-3">
            <span className="min-w-0 break-all">{path}</span>
            <span className="shrink-0">{sizeBytes.toLocaleString('en')}</span>
          </li>
        ))}
      </ul>
      {ignored.length > 0 && (
        <>
          <h3 className="mb-1 mt-4 text-13 font-bold">Passed over ({ignored.length})</h3>
          <ul className="grid max-h-[240px] gap-1 overflow-y-auto text-12">
            {ignored.map(({ path, why }) => (
              <li key={path} className="break-words">
                {path}: {why}
              </li>
            ))}
          </ul>
          <p className="mt-2 text-13">
            <Link to={`/fit/loose-ends?app=${standIn}`} className="underline">
              Mend what it cannot find
            </Link>
          </p>
        </>
      )}
      {folders.length > 0 && (
        <form
          className="mt-5 grid gap-2 border-t border-[#8a918b] pt-3 text-13"
          onSubmit={(event) => {
            event.preventDefault()
            move.mutate({ from, to: renamed(from, to) })
          }}
        >
          <h3 className="font-bold">What may happen to it</h3>
          {versioned !== undefined && next !== undefined && (
            <button
              type="button"
              disabled={move.isPending}
              className="w-fit border border-[#6b726c] px-2 py-1"
              onClick={() => move.mutate({ from: versioned, to: next })}
            >
              The app becomes version {next.slice(name.length + 1)}
            </button>
          )}
          <label className="grid gap-1">
            The folder
            <select
              value={from}
              onChange={(event) => setFrom(event.target.value)}
              className="border border-[#6b726c] bg-[#f7f7f7] px-1 py-1"
            >
              <option value="">choose one</option>
              {folders.map((folder) => (
                <option key={folder}>{folder}</option>
              ))}
            </select>
          </label>
          <label className="grid gap-1">
            gets the name
            <input
              value={to}
              onChange={(event) => setTo(event.target.value)}
              className="border border-[#6b726c] bg-[#f7f7f7] px-1 py-1"
            />
          </label>
          <button
            type="submit"
            disabled={move.isPending || from === '' || to.trim() === ''}
            className="w-fit border border-[#6b726c] px-2 py-1 disabled:opacity-50"
          >
            Rename it
          </button>
        </form>
      )}
      <p className="mt-3 text-12">Version {appVersion} is what its description is for.</p>
    </section>
  )
}

function foldersOf(paths: readonly string[]): string[] {
  const folders = new Set<string>()
  for (const path of paths) {
    const parts = path.split('/').slice(0, -1)
    for (let depth = 1; depth <= parts.length; depth++) folders.add(parts.slice(0, depth).join('/'))
  }
  return [...folders].sort(byPath)
}

/** The whole number behind the app's name, of a folder that has one. */
function versionOf(folder: string, name: string): number | undefined {
  const version = folder.startsWith(`${name} `) ? folder.slice(name.length + 1) : ''
  return /^\d{1,6}$/.test(version) ? Number(version) : undefined
}

/** The same place under another name. */
const renamed = (folder: string, name: string) => [...folder.split('/').slice(0, -1), name.trim()].join('/')
