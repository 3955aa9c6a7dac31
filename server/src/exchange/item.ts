import { ItemId } from '@satchel/core/exchange/protocol'
import { FileShaText, PixelShaText } from '@satchel/core/hashes'
import { PackBrush } from '@satchel/core/pack/manifest'
import * as v from 'valibot'

const text = v.pipe(v.string(), v.maxLength(20_000))
const Brush = v.object({
  brush: PackBrush,
  grain: v.nullable(PixelShaText),
  stroke: text,
  mark: text,
})
const Release = v.object({
  version: text, date: text, notes: text, sha256: FileShaText, sizeBytes: v.number(), signer: text,
}) // biome-ignore format: two lines
/** What the exchange holds of a pack. */
export const Item = v.object({
  id: ItemId,
  title: text,
  maker: text,
  licence: text,
  about: text,
  tags: v.array(text),
  /** The key of whoever published it first, and its PEM: only they change it. */
  signer: text,
  pem: text,
  published: text,
  withdrawnAt: v.nullable(text),
  releases: v.array(Release),
  /** The brushes of the newest release. */
  brushes: v.array(Brush),
})
export type ShedItem = v.InferOutput<typeof Item>

/** All that can be had. */
export type Shelf = { name: string; items: readonly ShedItem[] }
