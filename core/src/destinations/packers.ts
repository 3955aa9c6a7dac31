import type { Crc32 } from '../formats/crc32.ts'
import type { Deflate } from '../formats/png/write.ts'
import type { HashBytes } from '../hashes.ts'

/** Faster ways of the platform. */
export type Packers = { deflate?: Deflate; crc32?: Crc32; hash?: HashBytes }
