import { describeDifferences } from '@satchel/core/alike/differences'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { plural } from '../../components/format.ts'
import { LoadError } from '../../components/states.tsx'
import type { LedgerLine } from '../../data/gather.ts'
import { TipPicture } from './tip-picture.tsx'
import { useLineWindow } from './use-line-window.ts'

const PAIR_PX = 60

type Props = { id: string; count: number; onSkip: () => Promise<unknown> }

/** Shows marks that are there already, each beside its original, before any of them is skipped. */
export function AlikeDialog({ id, count, onSkip }: Props) {
  const [open, setOpen] = useState(false)
  const skip = async () => {
    await onSkip()
    setOpen(false)
  }
  return (
    <>
      <Button onClick={() => setOpen(true)}>Look at {plural(count, 'same mark')}</Button>
      <Dialog
        open={open}
        onOpenChange={setOpen}
        shape="wide"
        title={plural(count, 'mark that you have', 'marks that you have')}
        description="Each paints like its original: only its size or the margin around it is another. Take one out of this by deciding on its line."
      >
        <Pairs id={id} count={count} />
        <div className="flex justify-end gap-2">
          <Button kind="quiet" onClick={() => setOpen(false)}>
            Keep them
          </Button>
          <Button kind="primary" onClick={() => void skip()}>
            Skip {plural(count, 'mark')}
          </Button>
        </div>
      </Dialog>
    </>
  )
}

function Pairs({ id, count }: { id: string; count: number }) {
  // The dialog's content enters the page after this is first drawn, so the list is told of its element by state.
  const [scroller, setScroller] = useState<HTMLElement | null>(null)
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller,
    estimateSize: () => PAIR_PX,
    overscan: 8,
  })
  const items = virtual.getVirtualItems()
  const lines = useLineWindow(id, { from: items[0]?.index ?? 0, to: items.at(-1)?.index ?? 0 }, 'same')
  if (lines.error) return <LoadError error={lines.error} onRetry={lines.retry} />
  return (
    <section
      ref={setScroller}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls must be reached by keyboard (WCAG 2.1.1)
      tabIndex={0}
      aria-label="Marks and their originals"
      className="h-[50vh] overflow-auto rounded-10 border border-line"
    >
      <ul className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map(({ index, start }) => {
          const line = lines.at(index)
          return (
            <li
              key={index}
              className="absolute inset-x-0 top-0 h-[60px] border-b border-line px-3"
              style={{ transform: `translateY(${start}px)` }}
            >
              {line && <Pair line={line} />}
            </li>
          )
        })}
      </ul>
    </section>
  )
}

function Pair({ line: { name, picture, reading, duplicate } }: { line: LedgerLine }) {
  if (!duplicate) return null
  const { name: original, picture: first, differs, of } = duplicate
  return (
    <div className="grid h-full grid-cols-[44px_minmax(0,1fr)_44px_minmax(0,1fr)_minmax(0,1.2fr)] items-center gap-3 text-13">
      {picture ? <TipPicture blobSha={picture} reading={reading ?? 'dark'} alt={`"${name}"`} /> : <span />}
      <span className="truncate">{name}</span>
      {first ? <TipPicture blobSha={first.blobSha} reading={first.reading} alt={`"${original}"`} /> : <span />}
      <span className="truncate text-quiet">
        {original}, {of === 'library' ? 'in the library' : 'in this ledger'}
      </span>
      <span>{describeDifferences(differs ?? [])}</span>
    </div>
  )
}
