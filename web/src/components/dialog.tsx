import { X } from 'lucide-react'
import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'

type Props = {
  open: boolean
  onOpenChange: (open: boolean) => void
  title: string
  description?: string
  children: ReactNode
  shape?: keyof typeof SHAPE
}

const SHAPE = {
  middle: 'left-1/2 top-[12vh] max-h-[80vh] w-[min(520px,calc(100vw-32px))] -translate-x-1/2 rounded-10',
  wide: 'left-1/2 top-[6vh] max-h-[88vh] w-[min(760px,calc(100vw-32px))] -translate-x-1/2 rounded-10',
  side: 'right-0 top-0 h-dvh w-[min(420px,100vw)] rounded-l-10',
}

/** A dialog in the middle, or a drawer at the right side. */
export function Dialog({ open, onOpenChange, title, description, children, shape = 'middle' }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Radix.Content
          className={`fixed z-50 flex flex-col gap-4 overflow-y-auto border border-line bg-surface p-5 shadow-lift ${SHAPE[shape]}`}
          {...(description ? {} : { 'aria-describedby': undefined })}
        >
          <div className="flex items-start justify-between gap-4">
            <div>
              <Radix.Title className="font-title text-24 leading-tight">{title}</Radix.Title>
              {description && <Radix.Description className="mt-1 text-quiet">{description}</Radix.Description>}
            </div>
            <Radix.Close className="inline-flex items-center gap-1 rounded-4 px-2 py-1 text-13 text-quiet hover:bg-raised">
              <X size={18} aria-hidden /> Close
            </Radix.Close>
          </div>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
