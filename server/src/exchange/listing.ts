import {
  type ExchangeBrush,
  type ExchangeFeed,
  type ExchangeItem,
  type ExchangeItemPage,
  FEED_VERSION,
  PAGE_ITEMS,
} from '@satchel/core/exchange/protocol'
import { markLikeness } from '@satchel/core/looks/like-mark'
import type { ShedItem, Shelf } from './item.ts'

/** From how much on a brush is told as like what was looked for. */
const LIKE_FROM = 40
const STROKES_SHOWN = 3

const picture = (name: string) => `/pictures/${name}.png`
const newestOf = ({ id, releases }: ShedItem) => {
  const [newest] = releases
  if (!newest) throw new Error(`${id} has no release`)
  return newest
}

function toItem(item: ShedItem): ExchangeItem {
  const { id, title, maker, licence, about, tags, signer, published, brushes } = item
  const { version, date } = newestOf(item)
  return {
    ...{ id, title, summary: about, content_text: about, tags },
    ...{ date_published: published, date_modified: date, authors: [{ name: maker }] },
    _satchel: {
      ...{ version, licence, signer, brushes: brushes.length, more: `/items/${id}.json` },
      strokes: brushes.slice(0, STROKES_SHOWN).map(({ stroke }) => picture(stroke)),
    },
  }
}

/** One item with its releases and its brushes. */
export function toItemPage(item: ShedItem): ExchangeItemPage {
  const list = item.brushes.map(({ brush, grain, stroke, mark }): ExchangeBrush => {
    const { id, name, maker, licence, tags, recipe, frames } = brush
    return {
      ...{ id, name, maker, licence, tags, recipe, mark, stroke: picture(stroke) },
      frames: frames.map((sha256) => ({ sha256, path: picture(sha256) })),
      ...(grain ? { grain: { sha256: grain, path: picture(grain) } } : {}),
    }
  })
  const releases = item.releases.map((each) => ({ ...each, path: `/items/${item.id}/${each.version}.satchel.zip` }))
  const { _satchel, ...facts } = toItem(item)
  return { ...facts, _satchel: { ..._satchel, releases, list } }
}

const wordsOf = ({ title, maker, about, tags, brushes }: ShedItem): string =>
  [title, maker, about, ...tags, ...brushes.flatMap(({ brush }) => [brush.name, ...brush.tags])]
    .join('\n')
    .toLowerCase()

/** Items that hold all words that are looked for, changed last first. */
export function findItems(shelf: Shelf, { q, maker }: { q: string; maker: string }): ShedItem[] {
  const words = q.toLowerCase().split(/\s+/).filter(Boolean)
  return shelf.items
    .filter((item) => maker === '' || item.maker === maker)
    .filter((item) => {
      const all = wordsOf(item)
      return words.every((word) => all.includes(word))
    })
    .sort((a, b) => newestOf(b).date.localeCompare(newestOf(a).date) || a.title.localeCompare(b.title))
}

/** Items with a brush whose mark is like one, the most like first. */
export function findLikeMark(shelf: Shelf, mark: Uint8Array): ShedItem[] {
  const scored = shelf.items.map((item) => {
    const marks = item.brushes.map((brush) => new Uint8Array(Buffer.from(brush.mark, 'base64url')))
    return { item, likeness: markLikeness([mark], marks)[0]?.likeness ?? 0 }
  })
  return scored
    .filter(({ likeness }) => likeness >= LIKE_FROM)
    .sort((a, b) => b.likeness - a.likeness)
    .map(({ item }) => item)
}

/** A page of items. @param address The listing's own address, by which the next page is named. */
export function toFeed(
  shelf: Shelf,
  items: readonly ShedItem[],
  at: number,
  address: URLSearchParams,
  path: string,
): ExchangeFeed {
  const next = new URLSearchParams(address)
  next.set('at', String(at + PAGE_ITEMS))
  return {
    version: FEED_VERSION,
    title: shelf.name,
    items: items.slice(at, at + PAGE_ITEMS).map(toItem),
    ...(items.length > at + PAGE_ITEMS ? { next_url: `${path}?${next.toString().replaceAll('+', '%20')}` } : {}),
  }
}
