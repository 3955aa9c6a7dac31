import type { Weight } from '@satchel/core/check-list/rules'
import { CircleAlert, Info, OctagonX } from 'lucide-react'
import type { ReactNode } from 'react'

/** How each weight is shown: its heading, how a number of such is told, its sign and its colour. */
export const WEIGHT_LOOKS: Record<
  Weight,
  { title: string; counted: readonly [one: string, many: string]; icon: ReactNode; look: string }
> = {
  stops: {
    title: 'Stops a release',
    counted: ['stops a release', 'stop a release'],
    icon: <OctagonX size={18} aria-hidden />,
    look: 'text-madder',
  },
  care: {
    title: 'Deserves care',
    counted: ['deserves care', 'deserve care'],
    icon: <CircleAlert size={18} aria-hidden />,
    look: 'text-amber',
  },
  told: {
    title: 'Good to know',
    counted: ['is good to know', 'are good to know'],
    icon: <Info size={18} aria-hidden />,
    look: 'text-quiet',
  },
}
