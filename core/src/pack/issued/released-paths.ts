import { SIGNATURE_PATH, SIGNER_PATH } from '../signature.ts'
import { SUMS_PATH } from '../sums.ts'

/** What the checksums of the release, their signature and its signer are called in a copy, that has some of its own. */
export const RELEASED_PATHS: ReadonlyMap<string, string> = new Map(
  [SUMS_PATH, SIGNATURE_PATH, SIGNER_PATH].map((path) => [path, `RELEASED.${path}`]),
)
