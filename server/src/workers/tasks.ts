import type { AlikePrint } from '@satchel/core/alike/alike-print'
import type { Difference } from '@satchel/core/alike/differences'
import type { NearPair } from '@satchel/core/alike/near-keys'
import type { PaintReading, Recipe } from '@satchel/core/brush/recipe'
import type { FileKind } from '@satchel/core/brush-file/kinds'
import type { PictureUse } from '@satchel/core/grain/picture-use'
import type { Seam } from '@satchel/core/grain/seam'
import type { PixelSha } from '@satchel/core/hashes'

/** A frame as the worker found it: its PNG file, ready to store, and the name of its pixels. */
export type ReadFrame = { png: Uint8Array; pixelSha: PixelSha; width: number; height: number; name: string }

/** What reading one file gave. */
export type ReadResult =
  | {
      outcome: 'tip'
      kind: FileKind
      name: string | undefined
      maker: string
      licence: string
      recipe: Recipe
      frames: ReadFrame[]
      fileKeys: [key: string, value: string][]
      pixelKey: string
      alike: AlikePrint | undefined
      use: PictureUse
      seam: Seam | undefined
      warnings: string[]
    }
  | { outcome: 'refused' | 'foreign'; kind: FileKind; reason: string }

export type PngTip = { png: Uint8Array; reading: PaintReading }

/** Everything the worker threads can do; each takes and gives plain data. */
export type Tasks = {
  readTip: (input: { bytes: Uint8Array; reading?: PaintReading }) => Promise<ReadResult>
  /** Raw deflate of at most `sizeBytes`, unpacked. */
  inflate: (input: { packed: Uint8Array; sizeBytes: number }) => Promise<Uint8Array>
  /** Pairs of kept keys, joined, that may look alike, the later one at or after `from`. */
  findCandidates: (input: { keys: Uint8Array; from: number }) => Promise<NearPair[]>
  /** Which pairs of kept marks are alike as far as they tell. */
  filterAlike: (input: { pairs: [mark: Uint8Array, original: Uint8Array][] }) => Promise<boolean[]>
  /** How a tip differs from its original by their pixels; undefined where they are not alike. */
  judgeAlike: (input: { tip: PngTip; original: PngTip }) => Promise<Difference[] | undefined>
  printAlike: (input: PngTip) => Promise<AlikePrint>
  shrink: (input: { png: Uint8Array; sidePx: number }) => Promise<ReadFrame>
  renderStroke: (input: {
    frames: Uint8Array[]
    grain?: Uint8Array | undefined
    recipe: Recipe
    width: number
    height: number
    what: 'list' | 'gauge'
  }) => Promise<Uint8Array>
  renderThumbnail: (input: {
    frames: Uint8Array[]
    grain?: Uint8Array | undefined
    recipe: Recipe
    frame?: number | undefined
  }) => Promise<Uint8Array>
  /** A thumbnail that someone made, as it will be kept, or what is wrong with it. */
  readThumbnail: (input: { png: Uint8Array }) => Promise<{ png: Uint8Array } | { refused: string }>
  renderTip: (input: { png: Uint8Array; reading: PaintReading; sidePx: number }) => Promise<Uint8Array>
  openFiles: (input: {
    name: string
    maker: string
    licence: string
    recipe: Recipe
    frames: Uint8Array[]
    frameNames: string[]
    keys: [key: string, value: string][]
  }) => Promise<{
    png: Uint8Array
    brush: Uint8Array
    extension: 'gbr' | 'gih'
  }>
}
