import type { Choices } from '@satchel/core/destinations/fit-state'
import { and, eq, inArray, isNull, or, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { isAnyOf } from './many.ts'
import { fitChoice, rackSet, setItem } from './schema/all.ts'

/** The set that a brush goes by: of several the first on the rack. */
export async function findFirstSets(
  db: Db,
  workspaceId: string,
  brushIds: readonly string[],
): Promise<Map<string, { id: string; name: string }>> {
  const rows = await db
    .select({ brushId: setItem.brushId, id: rackSet.id, name: rackSet.name })
    .from(setItem)
    .innerJoin(rackSet, and(eq(rackSet.id, setItem.setId), isNull(rackSet.deletedAt)))
    .where(and(eq(setItem.workspaceId, workspaceId), isAnyOf(setItem.brushId, brushIds)))
    .orderBy(sql`${rackSet.position} collate "C"`)
  // the first of a brush counts, and comes last here
  return new Map(rows.reverse().map(({ brushId, ...set }) => [brushId, set]))
}

/** For whom something was answered: what is nearer to the brush counts more. */
export const CHOICE_SCOPES = ['all', 'set', 'brush'] as const
export type ChoiceScope = (typeof CHOICE_SCOPES)[number]
export type AnsweredChoices = { of: Record<ChoiceScope, Choices>; set: { id: string; name: string } | undefined }

/** What was answered for brushes, for the sets that they go by, and for all. */
export async function listAnswers(
  db: Db,
  workspaceId: string,
  destinationIds: readonly string[],
  brushIds: readonly string[],
): Promise<(brushId: string, destinationId: string) => AnsweredChoices> {
  const sets = await findFirstSets(db, workspaceId, brushIds)
  const setIds = [...sets.values()].map(({ id }) => id)
  const rows = await db
    .select()
    .from(fitChoice)
    .where(
      and(
        eq(fitChoice.workspaceId, workspaceId),
        inArray(fitChoice.destinationId, [...destinationIds]),
        or(
          and(isNull(fitChoice.brushId), isNull(fitChoice.setId)),
          isAnyOf(fitChoice.brushId, brushIds),
          isAnyOf(fitChoice.setId, setIds),
        ),
      ),
    )
  const byName = new Map(rows.map((row) => [nameOfChoice(row), row.choices]))
  return (brushId, destinationId) => {
    const set = sets.get(brushId)
    const find = (name: { brushId: string | null; setId: string | null }) =>
      byName.get(nameOfChoice({ destinationId, ...name })) ?? {}
    return {
      of: {
        all: find({ brushId: null, setId: null }),
        set: set ? find({ brushId: null, setId: set.id }) : {},
        brush: find({ brushId, setId: null }),
      },
      set,
    }
  }
}

const nameOfChoice = ({
  destinationId,
  brushId,
  setId,
}: {
  destinationId: string
  brushId: string | null
  setId: string | null
}) => `${destinationId} ${brushId ?? ''} ${setId ?? ''}`

/** What the curator has answered for each of these brushes and destinations, taken together as a plan goes by it. */
export async function listChoices(
  db: Db,
  workspaceId: string,
  destinationIds: readonly string[],
  brushIds: readonly string[],
): Promise<(brushId: string, destinationId: string) => Choices> {
  const answersOf = await listAnswers(db, workspaceId, destinationIds, brushIds)
  return (brushId, destinationId) => joinAnswers(answersOf(brushId, destinationId))
}

export const joinAnswers = ({ of }: AnsweredChoices): Choices =>
  Object.assign({}, ...CHOICE_SCOPES.map((scope) => of[scope]))

export async function saveChoices(
  db: Db,
  workspaceId: string,
  values: { destinationId: string; brushId: string | null; setId: string | null; choices: Choices },
): Promise<void> {
  await db
    .insert(fitChoice)
    .values({ workspaceId, ...values })
    .onConflictDoUpdate({
      target: [fitChoice.workspaceId, fitChoice.destinationId, fitChoice.brushId, fitChoice.setId],
      set: { choices: values.choices },
    })
}
