import { useInfiniteQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { Empty, LoadError, Loading } from '../../components/states.tsx'
import { type ExchangeItem, exchangePicture, itemsQuery } from '../../data/exchanges.ts'

type Wish = { q?: string; maker?: string; like?: string }

/** What an exchange has, as it is looked for. */
export function ItemList({ host, wish }: { host: string; wish: Wish }) {
  const found = useInfiniteQuery(itemsQuery(host, wish))
  if (found.isPending) return <Loading what="what is there" />
  if (found.isError) return <LoadError error={found.error} onRetry={() => void found.refetch()} />
  const [first] = found.data.pages
  const items = found.data.pages.flatMap((page) => page.items)
  if (items.length === 0)
    return <Empty title="Nothing like that is there">Look for fewer words, or for another maker.</Empty>
  return (
    <>
      <p className="mb-3 text-quiet">
        <strong className="font-semibold text-ink">{first?.title}</strong>: {first?.description}
      </p>
      <ul aria-label="Collections" className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3">
        {items.map((item) => (
          <Item key={item.id} host={host} item={item} />
        ))}
      </ul>
      {found.hasNextPage && (
        <div className="mt-4">
          <Button disabled={found.isFetchingNextPage} onClick={() => void found.fetchNextPage()}>
            Show more
          </Button>
        </div>
      )}
    </>
  )
}

function Item({
  host,
  item: { id, title, maker, about, version, licence, brushes, strokes, had },
}: {
  host: string
  item: ExchangeItem
}) {
  return (
    <li className="relative grid grid-cols-[minmax(0,1fr)] content-start gap-2 rounded-10 border border-line bg-surface p-4 has-[a:focus-visible]:outline-2 has-[a:focus-visible]:outline-saddle">
      <h2 className="font-title text-20">
        <Link
          to={`/gather/exchange/${encodeURIComponent(host)}/${id}`}
          className="outline-none after:absolute after:inset-0"
        >
          {title}
        </Link>
      </h2>
      <p className="truncate text-13 text-quiet">{maker}</p>
      <div className="grid gap-1">
        {strokes.slice(0, 2).map((path) => (
          <span
            key={path}
            className="grid h-20 place-content-center overflow-clip rounded-4 border border-line bg-white"
          >
            <img src={exchangePicture(host, path)} alt="" loading="lazy" decoding="async" className="max-h-18" />
          </span>
        ))}
      </div>
      <p className="line-clamp-3 text-13">{about}</p>
      <p className="text-13 text-quiet">
        {plural(brushes, 'brush', 'brushes')}, <span className="measure">{version}</span>,{' '}
        {licence || 'no licence said'}
        {had && <strong className="text-ink">. Here: {had}</strong>}
      </p>
    </li>
  )
}
