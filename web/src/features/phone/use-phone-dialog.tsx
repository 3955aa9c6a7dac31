import { lazy, type ReactNode, Suspense, useState } from 'react'

const PhoneDialog = lazy(async () => ({ default: (await import('./phone-dialog.tsx')).PhoneDialog }))

/**
 * The dialog that asks for photographs from a phone. It belongs to a view as a whole: what a view shows changes when the
 * first photograph arrives, and the dialog stays.
 */
export function usePhoneDialog(): { open: () => void; dialog: ReactNode } {
  const [isOpen, setIsOpen] = useState(false)
  return {
    open: () => setIsOpen(true),
    dialog: isOpen && (
      <Suspense fallback={null}>
        <PhoneDialog onClose={() => setIsOpen(false)} />
      </Suspense>
    ),
  }
}
