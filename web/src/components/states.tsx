import { RotateCw } from 'lucide-react'
import type { ReactNode } from 'react'
import { Button } from './button.tsx'

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-8 text-center text-quiet">
      Fetching {what} …
    </p>
  )
}

export function LoadError({ error, onRetry }: { error: Error; onRetry: () => void }) {
  return (
    <div role="alert" className="grid justify-items-center gap-3 p-8 text-center">
      <p className="text-madder">{error.message}</p>
      <Button onClick={onRetry}>
        <RotateCw size={18} aria-hidden /> Try again
      </Button>
    </div>
  )
}

/** An empty place teaches: what belongs here, and one action. */
export function Empty({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="grid justify-items-center gap-3 px-6 py-14 text-center">
      <h2 className="font-title text-24">{title}</h2>
      <div className="max-w-prose text-quiet">{children}</div>
      {action}
    </div>
  )
}
