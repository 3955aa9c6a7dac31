import { api, read } from './client.ts'

/** Any picture of the library or the ledger as a new source. @returns Its id. */
export const sourceFromPicture = (blobSha: string, name: string) =>
  read(api.sources['from-picture'].$post({ json: { blobSha, name } }))
