import { keyOfEnd, type LooseEnd, PROPOSED_BY, type Proposal } from '@satchel/core/loose-ends/find'
import { REFERENCE_KINDS } from '@satchel/core/loose-ends/references'
import { useWindowVirtualizer } from '@tanstack/react-virtual'
import { CircleCheck, CircleHelp, Unlink } from 'lucide-react'
import { useLayoutEffect, useRef, useState } from 'react'
import { usePageEnds } from '../../components/use-page-ends.ts'

const ROW_PX = 60

type Props = {
  ends: readonly LooseEnd[]
  /** What the curator has chosen, by the key of the end; an empty path leaves it loose. */
  chosen: ReadonlyMap<string, string>
  onChoose: (key: string, path: string) => void
}

/** Every loose end with what may be meant beside it. Only the rows in view are on the page. */
export function LooseList({ ends, chosen, onChoose }: Props) {
  const body = useRef<HTMLUListElement>(null)
  const [top, setTop] = useState(0)
  useLayoutEffect(() => {
    const measure = () => setTop((body.current?.getBoundingClientRect().top ?? 0) + window.scrollY)
    const watch = new ResizeObserver(measure)
    watch.observe(document.body)
    measure()
    return () => watch.disconnect()
  }, [])
  const virtual = useWindowVirtualizer({
    count: ends.length,
    estimateSize: () => ROW_PX,
    overscan: 6,
    scrollMargin: top,
    getItemKey: (i) => (ends[i] ? keyOfEnd(ends[i]) : i),
  })
  usePageEnds(virtual, ends.length)
  return (
    <ul ref={body} aria-label="Loose ends" className="relative" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map(({ index, start, key }) => {
        const end = ends[index]
        return (
          end && (
            <li
              key={key}
              ref={virtual.measureElement}
              data-index={index}
              aria-setsize={ends.length}
              aria-posinset={index + 1}
              className="absolute inset-x-0 top-0 border-b border-line py-2"
              style={{ transform: `translateY(${start - top}px)`, minHeight: ROW_PX }}
            >
              <LooseRow
                end={end}
                chosen={chosen.get(keyOfEnd(end))}
                onChoose={(path) => onChoose(keyOfEnd(end), path)}
              />
            </li>
          )
        )
      })}
    </ul>
  )
}

type RowProps = { end: LooseEnd; chosen: string | undefined; onChoose: (path: string) => void }

function LooseRow({ end, chosen, onChoose }: RowProps) {
  const { brush, kind, file, lookedAt, target, proposals, isSure } = end
  const [first] = proposals
  return (
    <div className="grid items-start gap-x-6 gap-y-1 md:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div className="min-w-0">
        <p className="flex items-center gap-2">
          <Unlink size={18} aria-hidden className="shrink-0 text-madder" />
          <span className="truncate font-semibold">{brush}</span>
          <span className="shrink-0 text-13 text-madder">the {REFERENCE_KINDS[kind].word} is missing</span>
        </p>
        <p className="measure break-all text-12 text-quiet" title={file}>
          {lookedAt === undefined ? `${target} leads out of the folder` : `looked for at ${lookedAt}`}
        </p>
      </div>
      <div className="min-w-0">
        {first === undefined && (
          <p className="flex items-center gap-2 text-13 text-quiet">
            <CircleHelp size={18} aria-hidden /> Nothing here is like it. Put the file back, or rename its folder above.
          </p>
        )}
        {first && isSure && (
          <p className="flex items-start gap-2 text-13">
            <CircleCheck size={18} aria-hidden className="shrink-0 text-moss" />
            <span className="min-w-0">
              <span className="text-moss">sure, {saidOf(first)}: </span>
              <span className="measure break-all text-12">{first.path}</span>
            </span>
          </p>
        )}
        {first && !isSure && (
          <select
            aria-label={`What ${brush} means by its ${REFERENCE_KINDS[kind].word}`}
            value={chosen ?? ''}
            onChange={(event) => onChoose(event.target.value)}
            className={`w-full rounded-4 border bg-raised px-2 py-1.5 text-13 ${chosen ? 'border-saddle' : 'border-line'}`}
          >
            <option value="">leave it loose</option>
            {proposals.map((proposal) => (
              <option key={`${proposal.path} ${proposal.by}`} value={proposal.path}>
                {`${proposal.path} (${saidOf(proposal)})`}
              </option>
            ))}
          </select>
        )}
      </div>
    </div>
  )
}

const saidOf = ({ by, score, putBack }: Proposal) =>
  putBack ? 'put back from what was kept' : `${PROPOSED_BY[by].word}${by === 'content' ? '' : `, ${score} of 100`}`
