import { api, read } from './client.ts'

/** Any picture of the library or the ledger as a new source. @returns Its id. */
export const sourceFromPicture = (blobSha: string, name: string) =>
  read(api.sources['from-picture'].$post({ json: { blobSha, name } }))

/** What a line of the ledger holds as a new source: its picture, or its frames as layers. @returns Its id. */
export const sourceFromLine = (lineId: string) => read(api.sources['from-line'].$post({ json: { lineId } }))
