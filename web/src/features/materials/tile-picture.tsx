import type { SeamSide } from '@satchel/core/grain/seam'
import { PixelsCanvas } from '../../components/pixels-canvas.tsx'
import type { GrainTile } from '../../workers/grain/protocol.ts'

/** A tile moved by half, its seams in the middle, and how they measure. */
export function TilePicture({ tile, label }: { tile: GrainTile; label: string }) {
  return (
    <figure className="grid min-w-0 content-start gap-1">
      <PixelsCanvas pixels={tile} label={label} className="well h-64 w-full object-contain" />
      <figcaption className="text-13">
        <span className="measure">{`${tile.width} × ${tile.height}`}</span>
        <SeamLine word="across" side={tile.seam.across} />
        <SeamLine word="down" side={tile.seam.down} />
      </figcaption>
    </figure>
  )
}

function SeamLine({ word, side: { figure, isSeamless, pitchPx, gapPx } }: { word: string; side: SeamSide }) {
  return (
    <span className={`block ${isSeamless ? 'text-moss' : 'text-amber'}`}>
      {word} <span className="measure">{figure.toFixed(2)}</span>, {isSeamless ? 'cannot be seen' : 'shows'}
      {pitchPx !== undefined && (
        <span className="text-quiet">
          {' '}
          · repeats every <span className="measure">{pitchPx.toFixed(1)}</span> px
          {gapPx !== 0 && (
            <span className="text-amber">
              , the gap {Math.abs(gapPx).toFixed(1)} px {gapPx > 0 ? 'too wide' : 'too narrow'}
            </span>
          )}
        </span>
      )}
    </span>
  )
}
