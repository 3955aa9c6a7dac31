import type { Destination } from '@satchel/core/destinations/destination'
import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'
import type { InstallSource } from './installs.ts'

export const destinationsQuery = queryOptions({
  queryKey: ['fit', 'destinations'],
  queryFn: () => read(api.fit.destinations.$get()),
})
export type KnownDestination = Awaited<
  ReturnType<NonNullable<(typeof destinationsQuery)['queryFn']>>
>['destinations'][number]

/** In which order brushes come: by name, or by their likeness at a destination; those with something left behind alone. */
export type Order = { by: string | undefined; worst: boolean; left: boolean; find: string }
/** Brushes of one page of the matrix, as the server gives them. */
export const PAGE = 60

export const pageQuery = ({ by, worst, left, find }: Order, page: number) =>
  queryOptions({
    // what is measured changes orders by likeness; an order by name is left alone by it
    queryKey: [by === undefined ? 'brushes' : 'fit', 'matrix', by ?? '', worst, left, find, page],
    queryFn: () =>
      read(
        api.fit.brushes.$get({
          query: {
            ...(by === undefined ? {} : { by }),
            ...(worst ? { worst: '1' as const } : {}),
            ...(left ? { left: '1' as const } : {}),
            find,
            from: String(page * PAGE),
          },
        }),
      ),
    placeholderData: keepPreviousData,
  })

/** The cells of some brushes; those that are not known yet are measured, and the query is asked again as they come. */
export const cellsQuery = (brushIds: readonly string[]) =>
  queryOptions({
    queryKey: ['fit', 'cells', brushIds],
    queryFn: () => read(api.fit.cells.$get({ query: { brushIds: brushIds.join() } })),
    enabled: brushIds.length > 0,
    placeholderData: keepPreviousData,
  })

export const cellQuery = (brushId: string, destinationId: string) =>
  queryOptions({
    queryKey: ['fit', 'cell', brushId, destinationId],
    queryFn: async () => {
      const route = api.fit.cells[':brushId'][':destinationId']
      const { cell } = await read(route.$get({ param: { brushId, destinationId } }))
      return cell ?? read(route.$post({ param: { brushId, destinationId } }))
    },
    placeholderData: keepPreviousData,
  })
export type Cell = Awaited<ReturnType<NonNullable<ReturnType<typeof cellQuery>['queryFn']>>>

export const cellPicture = (brushId: string, destinationId: string, what: string, key: string) =>
  `/api/fit/cells/${brushId}/${destinationId}/${what}?key=${key}`

type ChoiceWish = { destinationId: string; brushId?: string; setId?: string; choices: Record<string, string> }
/** Answers for one brush, for a set, or for all that goes there where neither is named. */
export const saveChoices = (json: ChoiceWish) => read(api.fit.choices.$put({ json }))

export const addDestination = (description: Destination) => read(api.fit.destinations.$post({ json: { description } }))
export const changeDestination = (id: string, description: Destination, from: number) =>
  read(api.fit.destinations[':id'].$put({ param: { id }, json: { description, from } }))
export const dropDestination = (id: string) => read(api.fit.destinations[':id'].$delete({ param: { id } }))

/** What a description that is not saved yet would make of a brush. */
export const tryQuery = (description: Destination, brushId: string | undefined) =>
  queryOptions({
    queryKey: ['fit-try', description, brushId],
    queryFn: () => read(api.fit.try.$post({ json: { description, brushId: brushId ?? '' } })),
    enabled: brushId !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  })

export const measureAll = () => read(api.fit.measure.$post())

/** What a brush could do without to arrive better; it takes a moment, and is asked for. */
export const betterQuery = (brushId: string, destinationId: string, key: string) =>
  queryOptions({
    queryKey: ['fit-better', brushId, destinationId, key],
    queryFn: () =>
      read(api.fit.cells[':brushId'][':destinationId'].better.$post({ param: { brushId, destinationId } })),
    staleTime: Number.POSITIVE_INFINITY,
  })

/** How many files some brushes would become, as far as they were measured. */
export const countQuery = (wish: InstallSource | undefined, destinationIds: string[]) =>
  queryOptions({
    queryKey: ['fit-count', wish, destinationIds],
    queryFn: () => read(api.fit.count.$post({ json: { ...wish, destinationIds } })),
    enabled: wish !== undefined && !('brushIds' in wish && wish.brushIds.length === 0),
  })
