import { queryOptions } from '@tanstack/react-query'
import { api, read, send } from '../api/client.ts'

/** The secret by which this phone is known to have opened the link; it outlives a reload, and no other page gets it. */
const holderKey = (token: string) => `phone ${token}`

async function open(token: string) {
  const known = sessionStorage.getItem(holderKey(token))
  const opened = await read(api.p[':token'].$post({ param: { token }, json: known === null ? {} : { holder: known } }))
  sessionStorage.setItem(holderKey(token), opened.holder)
  return opened
}

/** Opens a link, which is this phone's from then on. */
export const phonePageQuery = (token: string) =>
  queryOptions({
    queryKey: ['phone-page', token],
    queryFn: () => open(token),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  })

export const sendPhotograph = (token: string, holder: string, file: File) =>
  send(`/api/p/${encodeURIComponent(token)}/photographs?name=${encodeURIComponent(file.name)}`, {
    method: 'PUT',
    headers: { 'x-holder': holder },
    body: file,
  })
