import type { AppDeps } from '../app-deps.ts'
import { addInstall, type Install } from '../db/installs.ts'
import { notFound } from '../errors.ts'
import { findWished, type Wished } from './brush-source.ts'
import { findAnyDestination } from './destinations.ts'

type Ordering = Pick<AppDeps, 'db' | 'jobs' | 'events'>
type Wish = { name: string; destinationId: string } & Wished

/**
 * Begins an install, and has its files written for its destination.
 * @throws {Refusal} If there is no such destination, or nothing that is wanted of it.
 */
export async function orderInstall(
  deps: Ordering,
  workspaceId: string,
  { name, destinationId, ...wish }: Wish,
): Promise<Install> {
  const destination = await findAnyDestination(deps.db, workspaceId, destinationId)
  if (!destination) throw notFound('destination')
  // an app that is not simulated has no folder here: its files are downloaded
  const standIn = destination.standIn ?? null
  const brushes = await findWished(deps.db, workspaceId, wish)
  const install = await addInstall(deps.db, { workspaceId, name, destinationId, standIn, ...brushes })
  await writeInstall(deps, install, destination.name)
  return install
}

/** Has its files written, from where that stopped before. */
export async function writeInstall(
  { jobs, events }: Ordering,
  { workspaceId, id, name }: Install,
  destination: string,
): Promise<void> {
  const title = `"${name}" for ${destination}`
  await jobs.add({ workspaceId, kind: 'fit-install', subjectId: id, title, payload: {} })
  await events.publish({ workspaceId, topic: 'fit' })
}
