import { BUILT_IN } from '@satchel/core/destinations/built-in'
import { checkDestination, type Destination, STAND_INS, type StandInName } from '@satchel/core/destinations/destination'
import type { Db } from '../db/database.ts'
import { findDestination, listDestinations } from '../db/destinations.ts'

/** A destination as the page has it: its id is a name where it comes with the product. */
export type KnownDestination = {
  id: string
  isOwn: boolean
  /** Counts the changes of one's own; what comes with the product stays as it is. */
  version: number
  description: Destination
  sentences: string[]
}

const isStandIn = (id: string): id is StandInName => STAND_INS.some((each) => each === id)
const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/

/** All destinations of a workspace: those that come with the product, then its own. */
export async function allDestinations(db: Db, workspaceId: string): Promise<KnownDestination[]> {
  const own = await listDestinations(db, workspaceId)
  return [
    ...STAND_INS.map((id) => toKnown({ id, isOwn: false, version: 1, description: BUILT_IN[id] })),
    ...own.map(({ id, version, description }) => toKnown({ id, isOwn: true, version, description })),
  ]
}

export async function findAnyDestination(db: Db, workspaceId: string, id: string): Promise<Destination | undefined> {
  if (isStandIn(id)) return BUILT_IN[id]
  return UUID.test(id) ? (await findDestination(db, workspaceId, id))?.description : undefined
}

const toKnown = (destination: Omit<KnownDestination, 'sentences'>): KnownDestination => ({
  ...destination,
  sentences: checkDestination(destination.description),
})
