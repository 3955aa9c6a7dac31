import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** The rack: used by Sort, by the ledger's set names and by packs. */
const loadSets = () => read(api.sets.$get())
export const setsQuery = queryOptions({ queryKey: ['sets'], queryFn: loadSets })
export type OwnSet = Awaited<ReturnType<typeof loadSets>>['sets'][number]

/** The sets that the curator made, without those of the starter library. */
export const ownSetsQuery = queryOptions({
  ...setsQuery,
  select: ({ sets }) => ({ sets: sets.filter(({ starter }) => !starter) }),
})

/** The names of sets that hold sets, in the rack's order. */
export const outerNames = (sets: readonly { folder: string }[]): string[] => [
  ...new Set(sets.flatMap(({ folder }) => (folder ? [folder] : []))),
]

const loadBeside = (id: string, otherId: string) =>
  read(api.sets[':id'].beside[':otherId'].$get({ param: { id, otherId } }))
/** What stands only in one of two sets, only in the other, and in both. */
export const besideQuery = (id: string, otherId: string) =>
  queryOptions({
    queryKey: ['sets', 'beside', id, otherId],
    queryFn: () => loadBeside(id, otherId),
    enabled: id !== '' && otherId !== '',
  })
export type Beside = Awaited<ReturnType<typeof loadBeside>>
