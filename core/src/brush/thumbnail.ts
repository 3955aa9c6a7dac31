import * as v from 'valibot'
import { FRAMES_MAX } from '../limits.ts'

/** The size of every thumbnail, px. */
export const THUMBNAIL_SIZE = { width: 360, height: 180 }
export const THUMBNAIL_TEXT_MAX_CHARS = 40

/**
 * What stands for a brush in tiles and packs: its stroke or one of its frames, which follow every change, or a picture
 * made once: a region of the ground, or words.
 */
export const Thumbnail = v.variant('from', [
  v.strictObject({ from: v.literal('stroke') }),
  v.strictObject({
    from: v.literal('frame'),
    /** Counted from 0. */
    frame: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(FRAMES_MAX - 1)),
  }),
  v.strictObject({ from: v.literal('region') }),
  v.strictObject({
    from: v.literal('text'),
    text: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(THUMBNAIL_TEXT_MAX_CHARS)),
  }),
])

export type Thumbnail = v.InferOutput<typeof Thumbnail>

/** Whether a thumbnail is a picture of its own, which has to be kept with the brush. */
export const isOwnPicture = ({ from }: Pick<Thumbnail, 'from'>): boolean => from === 'region' || from === 'text'

/** What a thumbnail is made from, in words. */
export function thumbnailWords(thumbnail: Thumbnail): string {
  switch (thumbnail.from) {
    case 'frame':
      return `frame ${thumbnail.frame + 1}`
    case 'text':
      return `the words "${thumbnail.text}"`
    default:
      return `the ${thumbnail.from}`
  }
}
