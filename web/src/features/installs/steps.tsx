import { drawFolders } from '@satchel/core/destinations/folder-drawing'
import { useQuery } from '@tanstack/react-query'
import type { KnownDestination } from '../../data/fit.ts'
import { type InstallEntry, installQuery } from '../../data/installs.ts'

type Props = { install: InstallEntry; destination: KnownDestination }

/** What a person who has never done it does, step by step, with a picture of what goes where. */
export function Steps({ install, destination: { description } }: Props) {
  const { data } = useQuery(installQuery(install.id))
  const { name, afterCopying } = description
  return (
    <details className="text-13">
      <summary className="cursor-pointer text-saddle">Steps for a beginner</summary>
      <ol className="mt-2 grid list-inside list-decimal gap-1">
        <li>Unpack the zip, or choose the brush folder of {name} above.</li>
        <li>Copy the folders into the brush folder of {name}, as they are.</li>
        {afterCopying.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
      {data && data.files.length > 0 && (
        <img
          src={`data:image/svg+xml,${encodeURIComponent(
            drawFolders(
              name,
              data.files.map(({ path }) => path),
            ),
          )}`}
          alt={`The folders of these files go into the brush folder of ${name}`}
          className="mt-2 h-auto w-full rounded-4 border border-line"
        />
      )}
    </details>
  )
}
