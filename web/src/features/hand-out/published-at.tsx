import { useQuery } from '@tanstack/react-query'
import { format } from 'date-fns'
import { Button } from '../../components/button.tsx'
import { publishedQuery, withdrawPublished } from '../../data/exchanges.ts'
import { usePackChange } from './use-pack-change.ts'

/** Where strangers find the pack, and how it is taken away there. */
export function PublishedAt({ packId }: { packId: string }) {
  const published = useQuery(publishedQuery(packId)).data?.published ?? []
  const change = usePackChange()
  if (published.length === 0) return null
  return (
    <section aria-labelledby="published" className="grid gap-2">
      <h3 id="published" className="font-title text-20">
        At exchanges
      </h3>
      <ul className="grid gap-2">
        {published.map(({ id, title, host, version, publishedAt, withdrawnAt }) => (
          <li key={id} className="flex flex-wrap items-center justify-between gap-2 text-13">
            <span>
              <span className="measure">{version}</span> at {title} ({host}) since{' '}
              {format(new Date(publishedAt), 'd MMM yyyy')}
              {withdrawnAt && `, taken away ${format(new Date(withdrawnAt), 'd MMM yyyy')}`}
            </span>
            {!withdrawnAt && (
              <Button
                kind="quiet"
                onClick={() =>
                  void change(() => withdrawPublished(id), {
                    text: `Nobody finds it at ${title} any more; what was taken stays taken.`,
                  })
                }
              >
                Take it away
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
