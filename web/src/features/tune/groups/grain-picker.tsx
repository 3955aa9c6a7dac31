import type { PixelSha } from '@satchel/core/hashes'
import { useQuery } from '@tanstack/react-query'
import { LoadError } from '../../../components/states.tsx'
import { materialsQuery } from '../../../data/materials.ts'

/** The library's grains as tiles; a click lays one under the brush, and the strokes show it at once. */
export function GrainPicker({
  chosen,
  onChoose,
}: {
  chosen: PixelSha | undefined
  onChoose: (sha256: PixelSha | undefined) => void
}) {
  const materials = useQuery(materialsQuery)
  if (materials.isError) return <LoadError error={materials.error} onRetry={() => void materials.refetch()} />
  const grains = (materials.data?.materials ?? []).filter(({ kind }) => kind === 'grain')
  const look = (on: boolean) =>
    `grid gap-1 rounded-4 border p-1 text-left text-12 ${on ? 'border-saddle bg-raised font-semibold text-saddle' : 'border-line hover:bg-raised'}`
  return (
    <fieldset>
      <legend className="mb-1 text-13 font-medium">Grain</legend>
      <div className="grid max-h-56 grid-cols-3 gap-1.5 overflow-y-auto">
        <button
          type="button"
          aria-pressed={chosen === undefined}
          onClick={() => onChoose(undefined)}
          className={look(chosen === undefined)}
        >
          <span className="well block h-12" />
          none
        </button>
        {grains.map(({ id, name, blobSha, pixelSha }) => (
          <button
            key={id}
            type="button"
            aria-pressed={chosen === pixelSha}
            onClick={() => onChoose(pixelSha)}
            className={look(chosen === pixelSha)}
          >
            <span
              className="well block h-12"
              style={{ backgroundImage: `url(/api/pictures/${blobSha})`, backgroundSize: '64px' }}
            />
            <span className="truncate">{name}</span>
          </button>
        ))}
      </div>
      {materials.isSuccess && grains.length === 0 && (
        <p className="mt-1 text-12 text-quiet">
          No grains yet: drop a picture that repeats under Gather, and take it in as grain.
        </p>
      )}
    </fieldset>
  )
}
