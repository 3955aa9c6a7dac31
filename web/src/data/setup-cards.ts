import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

const load = () => read(api['setup-cards'].$get())

/** Setup cards that are laid out here, and those that were put back by themselves and not seen yet. */
export const setupCardsQuery = queryOptions({ queryKey: ['pockets', 'setup-cards'], queryFn: load })

export type SetupCards = Awaited<ReturnType<typeof load>>

export const putCardBack = (id: string) => read(api['setup-cards'][':id']['put-back'].$post({ param: { id } }))
export const setCardSeen = (id: string) => read(api['setup-cards'][':id'].seen.$post({ param: { id } }))
