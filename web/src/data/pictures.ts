import { send } from '../api/client.ts'

/** A stored picture's file, for a worker. */
export const loadPicture = async (blobSha: string): Promise<ArrayBuffer> =>
  (await send(`/api/pictures/${blobSha}`, { method: 'GET' })).arrayBuffer()
