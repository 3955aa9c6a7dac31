import type { CoverPlan } from '@satchel/core/cover/cover'
import type { EditionPlan } from '@satchel/core/editions/plan'
import { and, eq, isNull, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { edition, pack } from './schema/all.ts'

/** What of a pack's cover names brushes. */
export type CoverNames = { coverBrushId: string | null; cover: CoverPlan | null }

/** The covers of all packs, held for a change. */
export const holdCovers = (tx: Db, workspaceId: string): Promise<({ id: string } & CoverNames)[]> =>
  tx
    .select({ id: pack.id, coverBrushId: pack.coverBrushId, cover: pack.cover })
    .from(pack)
    .where(and(eq(pack.workspaceId, workspaceId), isNull(pack.deletedAt)))
    .orderBy(pack.id)
    .for('update')

export const setCoverNames = (tx: Db, workspaceId: string, id: string, names: CoverNames) =>
  tx
    .update(pack)
    .set(names)
    .where(and(eq(pack.workspaceId, workspaceId), eq(pack.id, id)))

/** The plans of all editions, held for a change. */
export const holdPlans = (tx: Db, workspaceId: string): Promise<{ id: string; plan: EditionPlan }[]> =>
  tx
    .select({ id: edition.id, plan: edition.plan })
    .from(edition)
    .where(and(eq(edition.workspaceId, workspaceId), isNull(edition.deletedAt)))
    .orderBy(edition.id)
    .for('update')

/** Gives an edition another plan, as one version more. */
export const setPlan = (tx: Db, workspaceId: string, id: string, plan: EditionPlan) =>
  tx
    .update(edition)
    .set({ plan, version: sql`${edition.version} + 1`, prepareAt: sql`now()` })
    .where(and(eq(edition.workspaceId, workspaceId), eq(edition.id, id)))
