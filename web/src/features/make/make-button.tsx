import { type Become, becomeOf, type Plan } from '@satchel/core/make/ways'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Wand2 } from 'lucide-react'
import { Button } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { Progress } from '../../components/progress.tsx'
import { toastError } from '../../components/toasts.tsx'
import { jobsQuery, stopJob } from '../../data/jobs.ts'
import { makeSource, type Source } from '../../data/sources.ts'
import { useRefresh } from '../../data/use-refresh.ts'

/** Makes all that a plan gives, at full size; while it runs, how far it is, and a way to stop it. */
export function MakeButton({
  source,
  plan,
  count,
  isEmpty,
  onSave,
}: {
  source: Source
  plan: Plan
  count: number
  isEmpty: boolean
  onSave: () => Promise<boolean>
}) {
  const jobs = useQuery(jobsQuery)
  const refresh = useRefresh()
  const running = jobs.data?.jobs.find(
    ({ kind, subjectId, state }) =>
      kind === 'make-source' && subjectId === source.id && (state === 'queued' || state === 'running'),
  )
  const make = useMutation({
    mutationFn: async () => {
      if (await onSave()) await makeSource(source.id)
    },
    onSuccess: () => refresh(jobsQuery.queryKey),
    onError: toastError,
  })
  if (running)
    return (
      <span className="flex items-center gap-2 text-13 text-quiet" role="status">
        <span className="w-28">
          <Progress done={running.done} total={running.total} label="Making" />
        </span>
        making at full size
        <Button kind="quiet" onClick={() => void stopJob(running.id).catch(toastError)}>
          Stop
        </Button>
      </span>
    )
  const isAgain = source.made.length > 0
  return (
    <Button kind="primary" onClick={() => make.mutate()} disabled={make.isPending || isEmpty || count === 0}>
      <Wand2 size={18} aria-hidden /> {isAgain ? 'Make again' : WORDS[becomeOf(plan)](count)}
    </Button>
  )
}

const WORDS: Record<Become, (count: number) => string> = {
  tips: (count) => (count === 1 ? 'Make the tip' : `Make ${plural(count, 'tip')}`),
  frames: (count) => (count === 1 ? 'Make the tip' : `Make one tip of ${plural(count, 'frame')}`),
  strips: (count) => (count === 1 ? 'Make the strip' : `Make ${plural(count, 'strip')}`),
}
