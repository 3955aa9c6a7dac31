import { useVirtualizer } from '@tanstack/react-virtual'
import { useCallback, useMemo, useRef } from 'react'
import { useNavigate } from 'react-router'
import { formatCount, plural } from '../../components/format.ts'
import { LoadError } from '../../components/states.tsx'
import { toastError } from '../../components/toasts.tsx'
import { decide, type Ledger, type LedgerFolder, type LedgerLine, ledgerQuery, shrink } from '../../data/gather.ts'
import { sourceFromLine } from '../../data/sources.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { Line, type LineActions } from './ledger-line.tsx'
import { LedgerRows } from './ledger-rows.ts'
import { useLineWindow } from './use-line-window.ts'

const LINE_PX = 60
const HEAD_PX = 40

/** Every file that came, grouped by folder, as a virtual list whose lines are fetched as they come into view. */
export function LedgerList({ ledger, setNames }: { ledger: Ledger; setNames: readonly string[] }) {
  const refresh = useRefresh()
  const navigate = useNavigate()
  const scroller = useRef<HTMLDivElement>(null)
  const rows = useMemo(() => new LedgerRows(ledger.folders), [ledger.folders])
  const virtual = useVirtualizer({
    count: rows.count,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (isHead(rows.at(i)) ? HEAD_PX : LINE_PX),
    overscan: 12,
  })
  const { id, heavyPx } = ledger
  const items = virtual.getVirtualItems()
  const inView = items.flatMap(({ index }) => {
    const row = rows.at(index)
    return row && 'line' in row ? [row.line] : []
  })
  const lines = useLineWindow(id, { from: inView[0] ?? 0, to: inView.at(-1) ?? 0 })
  const run = useCallback(
    async (change: () => Promise<unknown>) => {
      try {
        await change()
      } catch (error) {
        toastError(error)
      }
      await refresh(ledgerQuery(id).queryKey)
    },
    [id, refresh],
  )
  const actions = useMemo<LineActions>(
    () => ({
      onOutcome: (line, outcome) => void run(() => decide(id, { ids: [line.id] }, { outcome })),
      onSet: (line, setName) => void run(() => decide(id, { ids: [line.id] }, { setName })),
      onUse: (line, use) => void run(() => decide(id, { ids: [line.id] }, { use })),
      onShrink: (line, smaller) => void run(() => shrink(id, { ids: [line.id] }, smaller)),
      onMake: (line) =>
        void run(async () => {
          const { id: source } = await sourceFromLine(line.id)
          await navigate(`/make/${source}`)
        }),
    }),
    [id, run, navigate],
  )
  return (
    <section
      ref={scroller}
      aria-label="Ledger"
      className="relative min-h-64 flex-1 overflow-auto rounded-10 border border-line bg-surface"
    >
      <datalist id="set-names">
        {setNames.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      {lines.error && <LoadError error={lines.error} onRetry={lines.retry} />}
      <div className="relative min-w-[760px]" style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const row = rows.at(item.index)
          if (!row) return null
          const line = 'line' in row ? lines.at(row.line) : undefined
          return (
            <div
              key={'line' in row ? `line ${row.line}` : `folder ${row.head.folder}`}
              ref={virtual.measureElement}
              data-index={item.index}
              className="absolute inset-x-0 top-0"
              style={{ transform: `translateY(${item.start}px)` }}
            >
              {'head' in row ? (
                <FolderHead
                  head={row.head}
                  onAll={(outcome) => void run(() => decide(id, { folder: row.head.folder }, { outcome }))}
                  onUse={(use) => void run(() => decide(id, { folder: row.head.folder, group: 'pictures' }, { use }))}
                />
              ) : line ? (
                <Line key={line.id} line={line} heavyPx={heavyPx} actions={actions} />
              ) : (
                <div aria-hidden className="h-[60px] border-b border-line" />
              )}
            </div>
          )
        })}
      </div>
    </section>
  )
}

const isHead = (row: ReturnType<LedgerRows['at']>) => row !== undefined && 'head' in row

function FolderHead({
  head: { folder, lines, taken, pictures },
  onAll,
  onUse,
}: {
  head: LedgerFolder
  onAll: (outcome: 'take' | 'skip') => void
  onUse: (use: LedgerLine['use']) => void
}) {
  return (
    <div className="flex h-10 items-center gap-3 border-b border-line bg-ground px-3 text-13">
      <span className="eyelet" aria-hidden />
      <h3 className="min-w-0 truncate font-title text-15 font-semibold" title={folder}>
        {folder || 'Loose files'}
      </h3>
      <span className="text-quiet">
        {plural(lines, 'file')}, {formatCount(taken)} to take
      </span>
      <span className="ml-auto flex items-center gap-3">
        {pictures > 1 && (
          <select
            aria-label={`All pictures of ${folder || 'the loose files'} are`}
            value=""
            onChange={(event) => onUse(event.target.value as LedgerLine['use'])}
            className="rounded-4 border border-line bg-raised px-1 py-0.5"
          >
            <option value="">all are …</option>
            <option value="tip">tips</option>
            <option value="grain">grains</option>
            <option value="strip">strips</option>
          </select>
        )}
        <button type="button" className="text-saddle underline underline-offset-2" onClick={() => onAll('take')}>
          Take all<span className="sr-only"> of {folder || 'the loose files'}</span>
        </button>
        <button type="button" className="text-saddle underline underline-offset-2" onClick={() => onAll('skip')}>
          Skip all<span className="sr-only"> of {folder || 'the loose files'}</span>
        </button>
      </span>
    </div>
  )
}
