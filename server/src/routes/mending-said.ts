import * as v from 'valibot'
import { PATH_MAX_CHARS } from './validate.ts'

const FolderPath = v.pipe(v.string(), v.maxLength(2 * PATH_MAX_CHARS))
const MENDED_MAX = 20_000

/** Which loose ends are to be mended, as it comes in a body. */
export const MendingSaid = v.union([
  v.strictObject({ sure: v.literal(true) }),
  v.strictObject({ rule: v.object({ from: FolderPath, to: FolderPath }) }),
  v.strictObject({
    chosen: v.pipe(v.array(v.object({ key: FolderPath, path: FolderPath })), v.minLength(1), v.maxLength(MENDED_MAX)),
  }),
])
