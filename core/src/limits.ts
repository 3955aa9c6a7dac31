import { LimitError } from './errors.ts'

const MIB = 1024 * 1024
const GIB = 1024 * MIB

/** Longest side of one picture, px. */
export const PICTURE_SIDE_MAX_PX = 16_384
/** Most pixels of one picture. */
export const PICTURE_PIXELS_MAX = 64_000_000
/** One uploaded file, bytes. */
export const UPLOAD_MAX_BYTES = GIB
/** A larger file goes up in pieces of so many bytes, so that a broken upload goes on where it stopped. */
export const UPLOAD_PIECE_BYTES = 4 * MIB
/** Entries of one archive. */
export const ARCHIVE_ENTRIES_MAX = 20_000
/** All entries of one archive unpacked, bytes. */
export const ARCHIVE_UNPACKED_MAX_BYTES = 4 * GIB
/** Unpacked over packed size of one entry, judged above ARCHIVE_RATIO_FROM_BYTES. */
export const ARCHIVE_RATIO_MAX = 200
export const ARCHIVE_RATIO_FROM_BYTES = 10 * MIB
/**
 * The most that reading one file may take beside the program itself, bytes: two readers, a thread each, then fit into a
 * small server. `npm run bench` measures it with the worst file of each kind.
 */
export const READER_MEMORY_MAX_BYTES = 1.5 * GIB
/**
 * A file, or an entry of an archive, that is taken into memory whole, bytes: together with the pixels in it, the largest
 * of all pictures then stays below READER_MEMORY_MAX_BYTES.
 */
export const ENTRY_MEMORY_MAX_BYTES = 192 * MIB
/**
 * The manifest of a Satchel pack, bytes: 20,000 brushes with usual recipes are 50 MB of text, and reading that takes 0.4 GB.
 */
export const MANIFEST_MAX_BYTES = 64 * MIB
/** Archives inside archives; the outermost counts as 1. */
export const ARCHIVE_NESTING_MAX = 3
/** Frames of one animated tip. */
export const FRAMES_MAX = 256
/** Pixels of all frames of one tip together. */
export const ANIMATION_PIXELS_MAX = 80_000_000
/** Triangles of one mesh. */
export const MESH_TRIANGLES_MAX = 2_000_000
/** Characters of a name. */
export const NAME_MAX_CHARS = 120
/** Above this side a tip is slow to paint with, so a smaller copy is offered; common practice, no source. */
export const HEAVY_TIP_SIDE_PX = 2048

/**
 * Checks a picture's size before anything is allocated for it.
 * @throws {LimitError} If a side or the pixel count is above the limit.
 */
export function checkPictureSize(width: number, height: number): void {
  const side = Math.max(width, height)
  if (side > PICTURE_SIDE_MAX_PX) throw new LimitError('the longer side in px', side, PICTURE_SIDE_MAX_PX)
  if (width * height > PICTURE_PIXELS_MAX) throw new LimitError('the pixel count', width * height, PICTURE_PIXELS_MAX)
}

/**
 * Checks what all frames of an animation take together, before anything is allocated for them.
 * @throws {LimitError} If there are too many pixels in all.
 */
export function checkAnimationSize(frames: number, width: number, height: number): void {
  const pixels = frames * width * height
  if (pixels > ANIMATION_PIXELS_MAX) throw new LimitError('the pixel count of all frames', pixels, ANIMATION_PIXELS_MAX)
}
