import type { ZipCodecs } from '@satchel/core/formats/zip/read'
import { nodeZipCodecs } from '../workers/codec.ts'
import type { WorkerPool } from '../workers/pool.ts'

/** What unpacks to less is unpacked at once: to send it to a thread and back takes as long. */
const AT_ONCE_BYTES = 256 * 1024

/** Unpacks large entries in the worker threads, so that the server goes on answering. */
export const threadCodecs = (workers: WorkerPool): ZipCodecs => ({
  ...nodeZipCodecs,
  inflateRaw: (packed, sizeBytes) =>
    sizeBytes <= AT_ONCE_BYTES
      ? nodeZipCodecs.inflateRaw(packed, sizeBytes)
      : workers.run('inflate', { packed, sizeBytes }),
})
