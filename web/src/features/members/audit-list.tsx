import { AUDIT_HEADINGS, AUDIT_KIND_NAMES, AUDIT_KINDS, type AuditKind, auditCells } from '@satchel/core/members/audit'
import { toCsv } from '@satchel/core/people/figures'
import { useInfiniteQuery } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { SelectField } from '../../components/field.tsx'
import { formatMoment } from '../../components/format.ts'
import { saveFile } from '../../components/save-file.ts'
import { LoadError, Loading } from '../../components/states.tsx'
import { toastError } from '../../components/toasts.tsx'
import { auditQuery, loadWholeAudit } from '../../data/members.ts'

const CHOICES = [
  { value: '', label: 'All kinds' },
  ...AUDIT_KIND_NAMES.map((kind) => ({ value: kind, label: AUDIT_KINDS[kind] })),
]

/** What was done of weight, by whom: releases, hand-outs, members, deletions, keys. */
export function AuditList() {
  const [kind, setKind] = useState<AuditKind>()
  const [isSaving, setSaving] = useState(false)
  const audit = useInfiniteQuery(auditQuery(kind))
  const lines = audit.data?.pages.flatMap((page) => page.lines) ?? []
  const save = async () => {
    setSaving(true)
    try {
      const csv = toCsv(AUDIT_HEADINGS, (await loadWholeAudit(kind)).map(auditCells))
      saveFile(new Blob([csv], { type: 'text/csv' }), 'What was done.csv')
    } catch (error) {
      toastError(error)
    } finally {
      setSaving(false)
    }
  }
  return (
    <section aria-label="What was done" className="grid min-w-0 gap-2">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="font-title text-20">What was done</h2>
        <div className="flex flex-wrap items-end gap-2">
          <SelectField
            label="Kind"
            value={kind ?? ''}
            choices={CHOICES}
            onChange={({ target }) => setKind((target.value || undefined) as AuditKind | undefined)}
          />
          <Button disabled={isSaving || lines.length === 0} onClick={() => void save()}>
            <Download size={18} aria-hidden /> As CSV
          </Button>
        </div>
      </div>
      {audit.isPending && <Loading what="what was done" />}
      {audit.isError && <LoadError error={audit.error} onRetry={() => void audit.refetch()} />}
      {audit.data && lines.length === 0 && (
        <p className="text-quiet">
          Nothing of this kind yet. Releases, hand-outs, members, deletions and keys stand here.
        </p>
      )}
      {lines.length > 0 && (
        <ol className="rounded-10 border border-line bg-surface">
          {lines.map(({ id, at, person, kind: of, said }) => (
            <li key={id} className="grid gap-0.5 border-b border-line px-3 py-2 last:border-b-0">
              <span className="break-words">{said}</span>
              <span className="text-13 text-quiet">
                {person}, {formatMoment(at)}, {AUDIT_KINDS[of].toLowerCase()}
              </span>
            </li>
          ))}
        </ol>
      )}
      {audit.hasNextPage && (
        <Button
          disabled={audit.isFetchingNextPage}
          onClick={() => void audit.fetchNextPage()}
          className="justify-self-start"
        >
          Show more
        </Button>
      )}
    </section>
  )
}
