import type { BrushState } from '@satchel/core/newer/state'
import type { GatherLine } from '../../db/gathers.ts'
import type { StoredFrame, StoredThumbnail } from '../../db/schema/library.ts'
import type { WholeBrush } from '../../db/taken.ts'
import { withoutFile } from '../../pictures/thumbnail-file.ts'

const picturesOf = (frames: readonly StoredFrame[], keys: BrushState['pictures']['keys']): BrushState['pictures'] => ({
  frames: frames.map(({ pixelSha }) => pixelSha),
  names: frames.some(({ name }) => name) ? frames.map(({ name }) => name ?? '') : [],
  keys,
})

const thumbnailOf = (thumbnail: StoredThumbnail): BrushState['thumbnail'] => ({
  of: withoutFile(thumbnail),
  file: 'blobSha' in thumbnail ? thumbnail.blobSha : '',
})

/** A brush of the library, as it is now. */
export const stateOfBrush = ({ snapshot, frames, fileKeys }: WholeBrush): BrushState => ({
  name: snapshot.name,
  maker: snapshot.maker,
  licence: snapshot.licence,
  tags: snapshot.tags,
  recipe: snapshot.recipe,
  pictures: picturesOf(frames, fileKeys),
  thumbnail: thumbnailOf(snapshot.thumbnail),
})

/** A brush of a pack, as its maker gives it: whatever it is called or made smaller in the ledger. */
export function stateOfLine({ id, path, brush, frames, fullFrames }: GatherLine): BrushState {
  if (!brush) throw new Error(`line ${id} holds no brush`)
  const { maker, licence, tags, recipe, thumbnail = { from: 'stroke' }, fileKeys = [] } = brush
  return {
    ...{ name: path, maker, licence, tags, recipe },
    pictures: picturesOf(fullFrames ?? frames, fileKeys),
    thumbnail: thumbnailOf(thumbnail),
  }
}
