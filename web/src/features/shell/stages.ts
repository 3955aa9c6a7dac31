/** A stage of the working order: where it is, and what else belongs to it. */
type Stage = { path: string; name: string; also?: string }

/** The stages that work today, in the working order; their keys count from 1. */
export const STAGES: readonly Stage[] = [
  { path: '/gather', name: 'Gather' },
  { path: '/make', name: 'Make' },
  { path: '/tune', name: 'Tune' },
  { path: '/sort', name: 'Sort', also: '/compare' },
  { path: '/fit', name: 'Fit' },
  { path: '/hand-out', name: 'Hand out' },
]
