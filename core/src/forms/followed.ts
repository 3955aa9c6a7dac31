import * as v from 'valibot'
import { Zone } from '../editions/moments.ts'
import { Name } from './names.ts'

/** Files that one followed folder may hold. */
export const FOLLOWED_FILES_MAX = 10_000
/** Characters of a path within a followed folder. */
export const FOLLOWED_PATH_MAX = 1024

/** Who looks at a followed folder: this product's page in a browser, or the program of the command line. */
export const FOLLOWERS = ['page', 'program'] as const
export type Follower = (typeof FOLLOWERS)[number]

/** A folder that is to be followed. */
export const NewFollowed = v.object({
  name: Name,
  by: v.picklist(FOLLOWERS),
  /** Where its days begin. */
  zone: Zone,
  /** Names where it lies, so that the same folder is known again; without, it is a new one. */
  place: v.optional(v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/, 'a SHA-256'))),
})

const Path = v.pipe(
  v.string(),
  v.nonEmpty('the file needs a name'),
  v.maxLength(FOLLOWED_PATH_MAX),
  v.check((path) => !path.startsWith('/') && !path.split('/').includes('..'), 'the path leaves its folder'),
)
const Sha256 = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/, 'a SHA-256 is 64 digits'))
const Size = v.pipe(v.number(), v.safeInteger(), v.minValue(0))

/** All that lies in a folder now. */
export const FolderLook = v.object({
  files: v.pipe(
    v.array(v.object({ path: Path, sha256: v.nullable(Sha256), sizeBytes: Size })),
    v.maxLength(FOLLOWED_FILES_MAX, `a followed folder holds ${FOLLOWED_FILES_MAX} files at most; follow a part of it`),
    v.check((files) => new Set(files.map(({ path }) => path)).size === files.length, 'a path is named twice'),
  ),
})
/** Which file is sent, and what it is known by. */
export const FollowedFileSent = v.object({ path: Path, sha256: Sha256 })
/** The answer to whether a new file is one that is gone. */
export const FollowedAnswer = v.object({
  fileId: v.pipe(v.string(), v.uuid()),
  isSame: v.boolean(),
})
