import { keyOfEnd, type LooseEnd } from '@satchel/core/loose-ends/find'
import { applyRule, type RenameRule } from '@satchel/core/loose-ends/rename-rule'
import { ArrowRight } from 'lucide-react'
import { useId, useMemo, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'

/** What a rule would do is shown for so many. */
const SHOWN = 4

type Props = {
  ends: readonly LooseEnd[]
  paths: readonly string[]
  /** The one that mends most; none where nothing was found. */
  suggested: RenameRule | undefined
  isBusy: boolean
  onMend: (rule: RenameRule) => void
}

/** What begins with one folder is to begin with another: for all that is loose at once, seen before it is done. */
export function RenameRuleForm({ ends, paths, suggested, isBusy, onMend }: Props) {
  const ids = { from: useId(), to: useId() }
  const [own, setOwn] = useState<RenameRule>()
  const rule = own ?? suggested ?? { from: '', to: '' }
  const there = useMemo(() => new Set(paths), [paths])
  const isSaid = rule.from.trim() !== '' || rule.to.trim() !== ''
  const renamed = isSaid ? applyRule(ends, rule, there) : []
  const mends = renamed.filter(({ isThere }) => isThere)
  const byKey = new Map(ends.map((end) => [keyOfEnd(end), end]))
  return (
    <section aria-label="Rename a folder in all of them" className="mb-5 rounded-10 border border-line bg-surface p-4">
      <div className="flex flex-wrap items-end gap-3">
        {(['from', 'to'] as const).map((key) => (
          <label key={key} htmlFor={ids[key]} className="grid min-w-[180px] flex-1 gap-1 text-13 text-quiet">
            {key === 'from' ? 'What begins with the folder' : 'is to begin with'}
            <input
              id={ids[key]}
              value={rule[key]}
              onChange={(event) => setOwn({ ...rule, [key]: event.target.value })}
              className="measure rounded-4 border border-line bg-raised px-2.5 py-1.5 text-13 text-ink"
            />
          </label>
        ))}
        <Button disabled={isBusy || mends.length === 0} onClick={() => onMend(rule)}>
          Rename in {mends.length.toLocaleString('en')}
        </Button>
      </div>
      {isSaid && (
        <p role="status" className="mt-2 text-13 text-quiet">
          {renamed.length === 0
            ? 'No path begins with that.'
            : `${plural(renamed.length, 'path begins', 'paths begin')} so; ${mends.length.toLocaleString('en')} then ${mends.length === 1 ? 'leads' : 'lead'} to a file.`}
        </p>
      )}
      <ul className="measure mt-1 grid gap-0.5 text-12">
        {renamed.slice(0, SHOWN).map(({ key, path, isThere }) => (
          <li key={key} className="flex flex-wrap items-center gap-x-2">
            <span className="break-all text-quiet">{byKey.get(key)?.lookedAt}</span>
            <ArrowRight size={14} aria-label="becomes" className="shrink-0" />
            <span className="break-all">{path}</span>
            <span className={isThere ? 'text-moss' : 'text-madder'}>{isThere ? 'there' : 'not there'}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
