import type { Deps } from '../deps.ts'

/** What an act on many brushes may have changed: where they stand, and what follows from them. */
const TOPICS = ['library', 'pockets', 'packs', 'fit', 'marks'] as const

export async function tellOfAct({ events }: Pick<Deps, 'events'>, workspaceId: string): Promise<void> {
  for (const topic of TOPICS) await events.publish({ workspaceId, topic })
}
