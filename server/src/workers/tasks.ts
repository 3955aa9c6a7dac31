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
      near: { bits: string; signature: Uint8Array } | undefined
      use: PictureUse
      seam: Seam | undefined
      warnings: string[]
    }
  | { outcome: 'refused' | 'foreign'; kind: FileKind; reason: string }

/** Everything the worker threads can do; each takes and gives plain data. */
export type Tasks = {
  readTip: (input: { bytes: Uint8Array; reading?: PaintReading }) => Promise<ReadResult>
  /** Raw deflate of at most `sizeBytes`, unpacked. */
  inflate: (input: { packed: Uint8Array; sizeBytes: number }) => Promise<Uint8Array>
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
