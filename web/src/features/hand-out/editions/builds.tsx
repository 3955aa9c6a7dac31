import { useQuery } from '@tanstack/react-query'
import { Button } from '../../../components/button.tsx'
import { formatBytes, plural } from '../../../components/format.ts'
import { buildEditionAgain, buildsQuery } from '../../../data/editions.ts'
import { usePackChange } from '../use-pack-change.ts'

/** The downloads that are built of an edition: one for each set of brushes that is or was open. */
export function Builds({ packId, editionId }: { packId: string; editionId: string }) {
  const builds = useQuery(buildsQuery(packId, editionId))
  const change = usePackChange()
  if (!builds.data || builds.data.length === 0) return null
  return (
    <section aria-labelledby="builds" className="grid content-start gap-2">
      <h2 id="builds" className="font-title text-24">
        Downloads
      </h2>
      <ul className="grid gap-1">
        {builds.data.map(({ id, version, brushes, state, zipBytes, lost }) => (
          <li
            key={id}
            className="flex flex-wrap items-center gap-2 rounded-6 border border-line bg-surface px-3 py-1.5"
          >
            <span className="measure">{version}</span> with {plural(brushes, 'brush', 'brushes')}
            <span className="ml-auto text-13 text-quiet">
              {state === 'ready' && zipBytes !== null ? formatBytes(zipBytes) : (lost ?? 'being built')}
            </span>
            {lost !== null && (
              <Button onClick={() => void change(() => buildEditionAgain(editionId, id))}>Build it again</Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
