import type { MailKind } from '@satchel/core/mail/template'
import { queryOptions } from '@tanstack/react-query'
import { api, read } from '../api/client.ts'

/** The words of each kind of mail, in whose name they go, and where a stand-in shows what arrived. */
export const mailTemplatesQuery = queryOptions({
  queryKey: ['mail-templates'],
  queryFn: () => read(api.packs.mails.templates.$get()),
  staleTime: 0,
})

export type NewMails = {
  kind: MailKind
  subject: string
  body: string
  ids: string[]
  actId: string
  zone: string
  keep: boolean
}
/** @param json Its act has a name: sent again after an answer that was lost, it writes to nobody twice. */
export const writeMails = (packId: string, json: NewMails) =>
  read(api.packs[':id'].mails.$post({ param: { id: packId }, json }))
export const callOffMails = async (ids: string[]) =>
  (await read(api.packs['hand-outs'].mails['call-off'].$post({ json: { ids } }))).calledOff
/** Somebody wants mails after all. */
export const mailsAgain = (recipientId: string) =>
  read(api.packs['hand-outs'].people[':id']['mails-again'].$post({ param: { id: recipientId } }))
