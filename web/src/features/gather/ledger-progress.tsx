import { useMutation } from '@tanstack/react-query'
import { Square } from 'lucide-react'
import type { ReactNode } from 'react'
import { Button } from '../../components/button.tsx'
import { formatBytes, formatCount, formatTimeLeft, plural } from '../../components/format.ts'
import { Progress } from '../../components/progress.tsx'
import { toastError } from '../../components/toasts.tsx'
import { type Ledger, stopReading } from '../../data/gather.ts'
import type { UploadState } from './upload.ts'

/** How far the files are on their way up. */
export function Bringing({ uploads: { done, files, sentBytes, bytes, trouble } }: { uploads: UploadState }) {
  return (
    <Busy done={sentBytes} total={bytes}>
      Bringing in {formatCount(done)} of {plural(files, 'file')}, {formatBytes(sentBytes)} of {formatBytes(bytes)};{' '}
      {trouble ? (
        <span className="text-amber">it stops for now and goes on by itself: {trouble}</span>
      ) : (
        'you may look elsewhere meanwhile.'
      )}
    </Busy>
  )
}

/** How far reading is, in pictures: a zip counts all that is in it. */
export function Reading({ reading }: { reading: NonNullable<Ledger['reading']> }) {
  const { jobId, done, total } = reading
  const stop = useMutation({ mutationFn: () => stopReading(jobId), onError: toastError })
  const left = formatTimeLeft(reading)
  return (
    <Busy done={done} total={total}>
      Reading {formatCount(done)} of {plural(total, 'picture')}
      {left && `, ${left}`}; you may look elsewhere meanwhile.{' '}
      <Button
        kind="quiet"
        className="text-13"
        onClick={() => stop.mutate()}
        disabled={stop.isPending || stop.isSuccess}
      >
        <Square size={18} aria-hidden /> Stop reading
      </Button>
    </Busy>
  )
}

function Busy({ done, total, children }: { done: number; total: number; children: ReactNode }) {
  return (
    <div className="mb-3 flex flex-wrap items-center gap-3 text-13 text-quiet">
      <div className="w-56">
        <Progress done={done} total={total} label="Gathering" />
      </div>
      <span role="status">{children}</span>
    </div>
  )
}
