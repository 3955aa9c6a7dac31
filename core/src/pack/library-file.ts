import * as v from 'valibot'
import { FileShaText } from '../hashes.ts'
import { LineText, NameText } from '../names.ts'

/**
 * A Satchel library file: an archive that holds everything of a library. It is a Satchel pack of all brushes and sets too,
 * so that it can be gathered from like any other; what a pack has no word for lies under `library/`.
 */
export const LIBRARY = 'Satchel library'
export const LIBRARY_FORMAT = 'satchel-library'
export const LIBRARY_VERSION = 1
export const LIBRARY_EXTENSION = '.library.zip'
/** What a file of a library is called. */
export const LIBRARY_FILE = `Library${LIBRARY_EXTENSION}`
export const LIBRARY_PATH = 'library/library.json'

/** Entries of one library file: brushes may have many frames, and each is a file. */
export const LIBRARY_ENTRIES_MAX = 400_000
/** All of it together, bytes. */
export const LIBRARY_MAX_BYTES = 64 * 1024 ** 3
/** What library.json may take, bytes. */
export const LIBRARY_INFO_MAX_BYTES = 128 * 1024 ** 2
/** A part of the rows of a table ends once it has so many bytes. */
export const ROWS_PART_BYTES = 4 * 1024 ** 2
/** What a part may have at the most, bytes: a release of 20,000 brushes is one row. */
export const ROWS_MAX_BYTES = 192 * 1024 ** 2

/** Where a part of the rows of a table lies, counted from 1; a row a line, in JSON. */
export const rowsPath = (table: string, part: number): string =>
  `library/rows/${table}-${String(part).padStart(4, '0')}.jsonl`
/** Where a file lies that the pack has no place for. */
export const libraryFilePath = (sha256: string): string => `library/files/${sha256}`

/** The content of library.json: what there is, so that nothing can be left out or added unseen. */
export const LibraryInfo = v.strictObject({
  format: v.literal(LIBRARY_FORMAT),
  version: v.literal(LIBRARY_VERSION),
  /** What the workspace says of what it makes. */
  maker: LineText,
  licence: LineText,
  /** How many rows each table has, and in how many parts. */
  tables: v.array(
    v.strictObject({
      name: v.pipe(v.string(), v.regex(/^[A-Za-z]{1,40}$/)),
      rows: v.pipe(v.number(), v.integer(), v.minValue(0)),
      parts: v.pipe(v.number(), v.integer(), v.minValue(0)),
    }),
  ),
  /** Every stored file: its name, where it lies here, and what it is. */
  files: v.array(
    v.strictObject({
      sha256: FileShaText,
      path: v.pipe(v.string(), v.maxLength(300)),
      mediaType: v.pipe(v.string(), v.maxLength(100)),
    }),
  ),
  /** Where the sets stand that come with the product. */
  starterSets: v.array(v.strictObject({ name: NameText, position: v.pipe(v.string(), v.maxLength(100)) })),
})
export type LibraryInfo = v.InferOutput<typeof LibraryInfo>
