import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

export const makePhoneLink = () => read(api['phone-links'].$post())
export type PhoneLink = Awaited<ReturnType<typeof makePhoneLink>>

/** How far a phone has come with a link; events of the ledger make it new. */
export const phoneLinkQuery = (id: string) =>
  queryOptions({
    queryKey: ['gather', 'phone', id],
    queryFn: () => read(api['phone-links'][':id'].$get({ param: { id } })),
  })

export const endPhoneLink = (id: string) => read(api['phone-links'][':id'].$delete({ param: { id } }))
