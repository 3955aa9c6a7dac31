import { takenBy } from '@satchel/core/editions/cut'
import type { EditionPlan } from '@satchel/core/editions/plan'
import type { Db } from '../db/database.ts'
import { findEdition, insertEdition, setEditionDeleted, updateEdition } from '../db/editions.ts'
import { findPack } from '../db/packs.ts'
import { findNewestRelease, type Release } from '../db/releases.ts'
import { notFound, Refusal } from '../errors.ts'

/** What editions of a pack are cut from: its newest release, as far as choosing takes it. */
export function choosableOf({ version, manifest, destinations }: Release) {
  const { brushes, sets, single, pockets, help, title } = manifest
  return {
    version,
    title,
    help,
    single,
    sets,
    pockets,
    brushes: brushes.map(({ id, name, tags, recipe }) => ({ id, name, tags, sizePx: recipe.mark.sizePx })),
    destinations: destinations.map(({ id, description }) => ({ id, name: description.name })),
  }
}

/**
 * Makes an edition of a pack.
 * @throws {Refusal} If the pack was not released, or there is nothing in the edition.
 */
export async function createEdition(
  db: Db,
  workspaceId: string,
  packId: string,
  { name, plan }: { name: string; plan: EditionPlan },
) {
  if (!(await findPack(db, workspaceId, packId))) throw notFound('pack')
  await checkPlan(db, workspaceId, packId, plan)
  return insertEdition(db, { workspaceId, packId, name, plan })
}

/**
 * Changes an edition; whoever has it gets what it is now.
 * @returns Its new version.
 * @throws {Refusal} As `createEdition`; and where it is another one by now.
 */
export async function changeEdition(
  db: Db,
  workspaceId: string,
  id: string,
  change: { name: string; plan: EditionPlan; was: number },
): Promise<number> {
  const edition = await findEdition(db, workspaceId, id)
  if (!edition || edition.deletedAt) throw notFound('edition')
  await checkPlan(db, workspaceId, edition.packId, change.plan)
  const version = await updateEdition(db, workspaceId, id, change)
  if (version === undefined)
    throw new Refusal(
      'clash',
      'This edition was changed elsewhere meanwhile. Open it again, and make your change anew.',
    )
  return version
}

/** @throws {Refusal} Where it is gone, or somebody has it. */
export async function binEdition(db: Db, workspaceId: string, id: string): Promise<void> {
  if (!(await findEdition(db, workspaceId, id))) throw notFound('edition')
  if (!(await setEditionDeleted(db, workspaceId, id, new Date())))
    throw new Refusal('clash', 'People have this edition. Give their links something else under People first.')
}

async function checkPlan(db: Db, workspaceId: string, packId: string, plan: EditionPlan): Promise<void> {
  const newest = await findNewestRelease(db, workspaceId, packId)
  if (!newest) throw new Refusal('unfit', 'An edition is cut from a release; release the pack first.')
  if (takenBy(plan, newest.manifest).size === 0)
    throw new Refusal(
      'unfit',
      `Nothing of release ${newest.version} is in this edition; take in a set, a tag or a brush.`,
    )
  const known = new Set(newest.destinations.map(({ id }) => id))
  const { destinations, openFiles } = plan
  if (!openFiles && destinations && !destinations.some((id) => known.has(id)) && known.size > 0)
    throw new Refusal('unfit', 'Whoever gets this could not paint with it; leave the open files in, or an app.')
}
