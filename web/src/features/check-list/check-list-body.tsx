import { RULE_NAMES, type RuleName, WEIGHTS } from '@satchel/core/check-list/rules'
import { useQuery } from '@tanstack/react-query'
import { ScanSearch } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { TextArea } from '../../components/field.tsx'
import { plural } from '../../components/format.ts'
import { Progress } from '../../components/progress.tsx'
import { toastError } from '../../components/toasts.tsx'
import { type Check, type Finding, letPass, startCheck } from '../../data/check-list.ts'
import { jobsQuery } from '../../data/jobs.ts'
import { useRefresh } from '../../data/use-refresh.ts'
import { unseen } from './check-summary.tsx'
import { RuleCard } from './rule-card.tsx'
import { useMender } from './use-mender.ts'
import { WEIGHT_LOOKS } from './weights.tsx'

const REASON_MAX = 300

/** Everything the check list has to say of a pack, what matters most first. */
export function CheckListBody({ packId, check }: { packId: string; check: Check }) {
  const refresh = useRefresh()
  const mender = useMender(packId)
  const [passing, setPassing] = useState<readonly Finding[]>([])
  const pass = async (findings: readonly Finding[], reason: string | null) => {
    try {
      await letPass(
        packId,
        findings.map(({ key }) => key),
        reason,
      )
      setPassing([])
    } catch (error) {
      toastError(error)
    } finally {
      await refresh('pack')
    }
  }
  const ofRule = (rule: RuleName) => check.findings.filter((finding) => finding.rule === rule)
  return (
    <div className="grid max-w-5xl gap-6">
      <LookAtAll packId={packId} check={check} />
      {mender.running && (
        <div role="status" className="grid gap-1">
          <Progress {...mender.running} label="Mending" />
          <p className="flex items-center gap-3 text-13">
            Mended {mender.running.done} of {plural(mender.running.total, 'brush', 'brushes')}.
            <Button kind="quiet" className="text-13" onClick={mender.stop}>
              Stop after these
            </Button>
          </p>
        </div>
      )}
      {check.findings.length === 0 && !unseen(check) && (
        <p role="status" className="text-moss">
          Nothing to say: the pack is in order.
        </p>
      )}
      {WEIGHTS.map((weight) => {
        const rules = RULE_NAMES.filter((rule) => ofRule(rule)[0]?.weight === weight)
        if (rules.length === 0) return null
        const { title, look } = WEIGHT_LOOKS[weight]
        return (
          <section key={weight} aria-label={title} className="grid gap-3">
            <h2 className={`font-title text-24 ${look === 'text-quiet' ? '' : look}`}>{title}</h2>
            {rules.map((rule) => (
              <RuleCard
                key={rule}
                {...{ packId, rule, mender }}
                findings={ofRule(rule)}
                onPass={setPassing}
                onLookAgain={(findings) => void pass(findings, null)}
              />
            ))}
          </section>
        )
      })}
      <Dialog
        open={passing.length > 0}
        onOpenChange={(open) => !open && setPassing([])}
        title={`Let ${passing.length === 1 ? 'it' : `all ${passing.length}`} pass`}
        description="The reason stays beside the finding, and every release keeps it."
      >
        <form
          className="grid gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            void pass(passing, String(new FormData(event.currentTarget).get('reason')))
          }}
        >
          <TextArea label="Why it is right as it is" name="reason" required maxLength={REASON_MAX} />
          <Button kind="primary" type="submit">
            Let {passing.length === 1 ? 'it' : `all ${passing.length}`} pass
          </Button>
        </form>
      </Dialog>
    </div>
  )
}

/** Has all brushes looked at that were not yet; while that goes on, how far it is. */
function LookAtAll({ packId, check }: { packId: string; check: Check }) {
  const refresh = useRefresh()
  const jobs = useQuery(jobsQuery)
  const job = jobs.data?.jobs.find(
    ({ kind, subjectId, state }) =>
      kind === 'check-pack' && subjectId === packId && (state === 'queued' || state === 'running'),
  )
  const left = unseen(check)
  if (job)
    return (
      <div role="status" className="grid gap-1">
        <Progress done={job.done} total={job.total} label="Looking at the brushes" />
        <p className="text-13 text-quiet">
          Looking at pixels, strokes and how they arrive; what is found appears below.
        </p>
      </div>
    )
  if (!left) return null
  return (
    <div className="flex flex-wrap items-center gap-3">
      <Button
        kind="primary"
        onClick={() =>
          void startCheck(packId)
            .catch(toastError)
            .finally(() => refresh('jobs', 'pack'))
        }
      >
        <ScanSearch size={18} aria-hidden /> Look at what is left
      </Button>
      <span className="text-quiet">{left}</span>
    </div>
  )
}
