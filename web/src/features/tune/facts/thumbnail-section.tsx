import { THUMBNAIL_SIZE } from '@satchel/core/brush/thumbnail'
import { ImageIcon } from 'lucide-react'
import type { Brush } from '../../../data/brush.ts'

const MADE_FROM = { stroke: 'its stroke', frame: 'a frame', region: 'a region of the strokes', text: 'words' }

/** What stands for the brush in tiles and packs. */
export function ThumbnailSection({ brush, onChange }: { brush: Brush; onChange: () => void }) {
  const { id, version, updatedAt, thumbnail } = brush
  return (
    <section>
      <h3 className="mb-1 flex items-center justify-between text-13 font-medium text-quiet">
        Thumbnail
        <button type="button" onClick={onChange} className="inline-flex items-center gap-1 text-saddle underline">
          <ImageIcon size={14} aria-hidden /> Change<span className="sr-only"> the thumbnail</span>
        </button>
      </h3>
      <img
        src={`/api/brushes/${id}/thumbnail.png?v=${version}-${updatedAt}`}
        alt={`Thumbnail made from ${MADE_FROM[thumbnail.from]}`}
        {...THUMBNAIL_SIZE}
        className="well h-auto w-full max-w-[360px]"
      />
      <p className="mt-1 text-13 text-quiet">from {MADE_FROM[thumbnail.from]}</p>
    </section>
  )
}
