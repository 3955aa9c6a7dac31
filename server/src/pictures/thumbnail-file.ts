import type { Thumbnail } from '@satchel/core/brush/thumbnail'
import type { FileSha } from '@satchel/core/hashes'
import type { StoredThumbnail } from '../db/schema/library.ts'

/** A thumbnail with the file of its own picture; without that file it is the stroke. */
export function withFile(thumbnail: Thumbnail, blobSha?: FileSha): StoredThumbnail {
  switch (thumbnail.from) {
    case 'stroke':
    case 'frame':
      return thumbnail
    case 'region':
    case 'text':
      return blobSha === undefined ? { from: 'stroke' } : { ...thumbnail, blobSha }
  }
}

/** A thumbnail as a pack's manifest names it. */
export function withoutFile(thumbnail: StoredThumbnail): Thumbnail {
  if (!('blobSha' in thumbnail)) return thumbnail
  const { blobSha: _, ...rest } = thumbnail
  return rest
}
