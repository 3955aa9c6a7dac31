import { useMutation, useQuery } from '@tanstack/react-query'
import { Gauge } from 'lucide-react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { Empty } from '../../components/states.tsx'
import { toastError } from '../../components/toasts.tsx'
import { measureAll, type Order } from '../../data/fit.ts'
import { jobsQuery } from '../../data/jobs.ts'
import { useRefresh } from '../../data/use-refresh.ts'

export function Body({ total, order, children }: { total: number; order: Order; children: React.ReactNode }) {
  if (total > 0) return children
  if (order.find !== '' || order.left) return <p className="py-10 text-center text-quiet">No brush is like that.</p>
  return (
    <Empty
      title="No brushes to fit yet"
      action={
        <Link to="/gather" className={buttonLook('primary')}>
          Gather some
        </Link>
      }
    >
      Every brush of the library stands here beside every painting app, with how like itself it arrives there.
    </Empty>
  )
}

export function MeasureAll() {
  const refresh = useRefresh()
  const jobs = useQuery(jobsQuery)
  const isRunning = jobs.data?.jobs.some(
    ({ kind, state }) => kind === 'fit-all' && (state === 'queued' || state === 'running'),
  )
  const measure = useMutation({
    mutationFn: measureAll,
    onSuccess: () => refresh(jobsQuery.queryKey),
    onError: toastError,
  })
  return (
    <Button onClick={() => measure.mutate()} disabled={isRunning || measure.isPending}>
      <Gauge size={18} aria-hidden /> {isRunning ? 'Measuring all' : 'Measure all'}
    </Button>
  )
}

type OnlyLeftProps = { isOn: boolean; app: string | undefined; onChange: (left: '1' | undefined) => void }

/** Whether those alone are listed that leave something behind. */
export function OnlyLeft({ isOn, app, onChange }: OnlyLeftProps) {
  return (
    <label className="mb-3 flex w-fit items-center gap-2 text-13">
      <input
        type="checkbox"
        checked={isOn}
        onChange={(event) => onChange(event.target.checked ? '1' : undefined)}
        className="h-5 w-5"
      />
      only brushes that leave something behind in {app}
    </label>
  )
}
