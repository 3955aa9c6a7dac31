import { useQuery } from '@tanstack/react-query'
import { Play, Square } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../components/button.tsx'
import { Dialog } from '../../components/dialog.tsx'
import { formatCount, formatTimeLeft } from '../../components/format.ts'
import { Progress } from '../../components/progress.tsx'
import { toastError } from '../../components/toasts.tsx'
import { jobsQuery, resumeJob, stopJob } from '../../data/jobs.ts'
import { useRefresh } from '../../data/use-refresh.ts'

const RING_RADIUS = 11
const RING_LENGTH = 2 * Math.PI * RING_RADIUS

/** The ring of running jobs with its count; opens the drawer. */
export function JobRing() {
  const { data } = useQuery(jobsQuery)
  const [open, setOpen] = useState(false)
  const jobs = data?.jobs ?? []
  const running = jobs.filter((job) => job.state === 'queued' || job.state === 'running')
  const total = running.reduce((sum, job) => sum + job.total, 0)
  const share = total > 0 ? running.reduce((sum, job) => sum + job.done, 0) / total : 0
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        aria-label={running.length === 0 ? 'No running tasks' : `${running.length} running tasks`}
        className="relative grid h-8 w-8 place-content-center rounded-4 hover:bg-ground"
      >
        <svg viewBox="0 0 28 28" width={26} height={26} aria-hidden="true">
          <circle cx={14} cy={14} r={RING_RADIUS} fill="none" stroke="var(--line)" strokeWidth={3} />
          {running.length > 0 && (
            <circle
              cx={14}
              cy={14}
              r={RING_RADIUS}
              fill="none"
              stroke="var(--saddle)"
              strokeWidth={3}
              strokeLinecap="round"
              strokeDasharray={`${Math.max(0.08, share) * RING_LENGTH} ${RING_LENGTH}`}
              transform="rotate(-90 14 14)"
            />
          )}
        </svg>
        <span className="measure absolute inset-0 grid place-content-center text-12">{running.length}</span>
      </button>
      <Dialog
        shape="side"
        open={open}
        onOpenChange={setOpen}
        title="Tasks"
        description="They go on when you leave the page."
      >
        {jobs.length === 0 ? (
          <p className="text-quiet">Nothing runs, and nothing has run lately.</p>
        ) : (
          <ul className="grid gap-3">
            {jobs.map((job) => (
              <JobLine key={job.id} job={job} />
            ))}
          </ul>
        )}
      </Dialog>
    </>
  )
}

type Job = {
  id: string
  title: string
  state: string
  done: number
  total: number
  error: string | null
  startedAt: string | null
}

const STATE_WORD: Record<string, string> = {
  queued: 'waits',
  running: 'runs',
  done: 'done',
  failed: 'failed',
  stopped: 'stopped',
}

function JobLine({ job }: { job: Job }) {
  const refresh = useRefresh()
  const act = (run: (id: string) => Promise<unknown>) => async () => {
    try {
      await run(job.id)
      await refresh(jobsQuery.queryKey)
    } catch (error) {
      toastError(error)
    }
  }
  const open = job.state === 'queued' || job.state === 'running'
  return (
    <li className="grid gap-1.5 border-b border-line pb-3">
      <div className="flex items-baseline justify-between gap-3">
        <span className="font-medium">{job.title}</span>
        <span className={`text-13 ${job.state === 'failed' ? 'text-madder' : 'text-quiet'}`}>
          {STATE_WORD[job.state]}
        </span>
      </div>
      {open && <Progress done={job.done} total={job.total} label={job.title} />}
      <div className="flex items-center justify-between text-13 text-quiet">
        <span className="measure">
          {job.total > 0 ? `${formatCount(job.done)} of ${formatCount(job.total)}` : ''}{' '}
          {open ? formatTimeLeft(job) : ''}
        </span>
        {open && (
          <Button kind="quiet" onClick={act(stopJob)}>
            <Square size={18} aria-hidden /> Stop
          </Button>
        )}
        {(job.state === 'failed' || job.state === 'stopped') && (
          <Button kind="quiet" onClick={act(resumeJob)}>
            <Play size={18} aria-hidden /> Resume
          </Button>
        )}
      </div>
      {job.error && <p className="text-13 text-madder">{job.error}</p>}
    </li>
  )
}
