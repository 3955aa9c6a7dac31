/** The stages that work today, in the working order; their keys count from 1. */
export const STAGES = [
  { path: '/gather', name: 'Gather' },
  { path: '/tune', name: 'Tune' },
  { path: '/sort', name: 'Sort' },
  { path: '/hand-out', name: 'Hand out' },
] as const
