import { useQueryClient } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useCallback, useMemo, useRef } from 'react'
import { formatCount, plural } from '../../components/format.ts'
import { toastError } from '../../components/toasts.tsx'
import { Line, type LineActions } from './ledger-line.tsx'
import { decide, type Ledger, type LedgerLine, ledgerQuery, shrink } from './queries.ts'

const LINE_PX = 60
const HEAD_PX = 40

type Row = { kind: 'folder'; folder: string; lines: LedgerLine[] } | { kind: 'line'; line: LedgerLine }

function toRows(lines: readonly LedgerLine[]): Row[] {
  const rows: Row[] = []
  let folder: Extract<Row, { kind: 'folder' }> | undefined
  for (const line of lines) {
    if (folder?.folder !== line.folder) {
      folder = { kind: 'folder', folder: line.folder, lines: [] }
      rows.push(folder)
    }
    folder.lines.push(line)
    rows.push({ kind: 'line', line })
  }
  return rows
}

/** Every file that came, grouped by folder, as a virtual list. */
export function LedgerList({ ledger, setNames }: { ledger: Ledger; setNames: readonly string[] }) {
  const client = useQueryClient()
  const scroller = useRef<HTMLDivElement>(null)
  const rows = useMemo(() => toRows(ledger.lines), [ledger.lines])
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (rows[i]?.kind === 'folder' ? HEAD_PX : LINE_PX),
    overscan: 12,
  })
  const { id, heavyPx } = ledger
  const run = useCallback(
    async (change: () => Promise<unknown>) => {
      try {
        await change()
      } catch (error) {
        toastError(error)
      }
      await client.invalidateQueries({ queryKey: ledgerQuery(id).queryKey })
    },
    [client, id],
  )
  const actions = useMemo<LineActions>(
    () => ({
      onOutcome: (line, outcome) => void run(() => decide(id, { ids: [line.id], outcome })),
      onSet: (line, setName) => void run(() => decide(id, { ids: [line.id], setName })),
      onUse: (line, use) => void run(() => decide(id, { ids: [line.id], use })),
      onShrink: (line, smaller) => void run(() => shrink(id, [line.id], smaller)),
    }),
    [id, run],
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
      <div className="relative min-w-[760px]" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index]
          if (!row) return null
          return (
            <div
              key={row.kind === 'line' ? row.line.id : `folder ${row.folder}`}
              ref={virtual.measureElement}
              data-index={item.index}
              className="absolute inset-x-0 top-0"
              style={{ transform: `translateY(${item.start}px)` }}
            >
              {row.kind === 'folder' ? (
                <FolderHead
                  row={row}
                  onAll={(outcome) => void run(() => decide(id, { ids: row.lines.map((line) => line.id), outcome }))}
                  onUse={(use) => void run(() => decide(id, { ids: picturesOf(row.lines), use }))}
                />
              ) : (
                <Line line={row.line} heavyPx={heavyPx} actions={actions} />
              )}
            </div>
          )
        })}
      </div>
    </section>
  )
}

const picturesOf = (lines: readonly LedgerLine[]) =>
  lines.filter((line) => line.frames === 1 && line.kind !== 'pack').map((line) => line.id)

function FolderHead({
  row,
  onAll,
  onUse,
}: {
  row: Extract<Row, { kind: 'folder' }>
  onAll: (outcome: 'take' | 'skip') => void
  onUse: (use: LedgerLine['use']) => void
}) {
  const taken = row.lines.filter((line) => line.outcome === 'take').length
  return (
    <div className="flex h-10 items-center gap-3 border-b border-line bg-ground px-3 text-13">
      <span className="eyelet" aria-hidden />
      <h3 className="min-w-0 truncate font-title text-15 font-semibold" title={row.folder}>
        {row.folder || 'Loose files'}
      </h3>
      <span className="text-quiet">
        {plural(row.lines.length, 'file')}, {formatCount(taken)} to take
      </span>
      <span className="ml-auto flex items-center gap-3">
        {picturesOf(row.lines).length > 1 && (
          <select
            aria-label={`All pictures of ${row.folder || 'the loose files'} are`}
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
          Take all<span className="sr-only"> of {row.folder || 'the loose files'}</span>
        </button>
        <button type="button" className="text-saddle underline underline-offset-2" onClick={() => onAll('skip')}>
          Skip all<span className="sr-only"> of {row.folder || 'the loose files'}</span>
        </button>
      </span>
    </div>
  )
}
