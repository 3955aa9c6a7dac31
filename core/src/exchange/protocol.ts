import * as v from 'valibot'
import { parseRecipe } from '../brush/migrate-recipe.ts'
import { parseJson } from '../formats/json.ts'
import { FileShaText, PixelShaText } from '../hashes.ts'
import { FRAMES_MAX } from '../limits.ts'
import { LineText, NameText } from '../names.ts'
import { isVersion } from '../releases/version.ts'

/**
 * What an exchange says, so that anybody can run one: listings are JSON Feed 1.1 (jsonfeed.org/version/1.1, read from memory), in whose items all
 * that is our own stands below `_satchel`; packs are Satchel packs as they are, signed by their makers. All of it comes from strangers, and is
 * held to these schemas before anything else sees it.
 */
export const FEED_VERSION = 'https://jsonfeed.org/version/1.1'
export const EXCHANGE_PATH = '/exchange.json'

/** Items of one page of a listing. */
export const PAGE_ITEMS = 24
/** Brushes of one item that are listed one by one. */
export const LISTED_BRUSHES = 500
/** What any listing is at most: the rest of it is not read. */
export const LISTING_MAX_BYTES = 4 * 1024 ** 2
const TEXT_MAX = 4_000
const VERSIONS_MAX = 200
/** A mark with colours in base64url: four layers of 24 x 24, and its sizes. */
export const MARK_MAX_CHARS = 4_000
const TAGS_MAX = 30

/** A path at the exchange itself: it leads nowhere else. @param most Its characters. */
const ownPath = (most: number) =>
  v.pipe(
    v.string(),
    v.maxLength(most),
    v.regex(/^\/[A-Za-z0-9._~%/-]*(\?[A-Za-z0-9._~%=&-]*)?$/, 'a path of the exchange itself'),
    v.check(
      (path) => !path.startsWith('//') && !path.split(/[/?]/).includes('..'),
      'a path that stays at the exchange',
    ),
  )
const OwnPath = ownPath(400)
/** Where a listing goes on: it says again what was looked for, which may be a mark. */
export const NEXT_MAX_CHARS = 8_000
const Moment = v.pipe(v.string(), v.isoTimestamp())
const Text = v.pipe(v.string(), v.maxLength(TEXT_MAX))
const Count = v.pipe(v.number(), v.safeInteger(), v.minValue(0))
/** The name of an item: made of what an address holds as it is. */
export const ItemId = v.pipe(v.string(), v.regex(/^[A-Za-z0-9-]{1,80}$/, 'a name of letters, digits and dashes'))
const Version = v.pipe(v.string(), v.maxLength(40), v.check(isVersion, 'a version, like 1.2.0'))
/** The fingerprint of a key: 64 hex digits in groups of four. */
const Fingerprint = v.pipe(v.string(), v.regex(/^([0-9a-f]{4} ){15}[0-9a-f]{4}$/, 'a fingerprint'))

/** What an exchange says of itself. */
export const ExchangeCard = v.object({
  exchange: v.literal(1),
  title: NameText,
  description: Text,
  /** Where its items are listed: `q` looks for words, `maker` names one maker, `at` is the place to begin at. */
  feed: OwnPath,
  /** Where items are listed by a mark: `mark` is a mark as core keeps it, in base64url. */
  like: OwnPath,
  /** Where makers send what they publish: `PUT items/ID/VERSION`, `POST items/ID/withdraw`. */
  items: OwnPath,
})
export type ExchangeCard = v.InferOutput<typeof ExchangeCard>

const Item = v.object({
  id: ItemId,
  title: NameText,
  summary: v.optional(Text, ''),
  content_text: v.optional(Text, ''),
  date_published: Moment,
  date_modified: Moment,
  authors: v.pipe(v.array(v.object({ name: LineText })), v.minLength(1), v.maxLength(5)),
  tags: v.optional(v.pipe(v.array(NameText), v.maxLength(TAGS_MAX)), []),
  _satchel: v.object({
    version: Version,
    licence: LineText,
    brushes: Count,
    signer: Fingerprint,
    /** Strokes that stand for it, pictures of at most 480 x 150 px. */
    strokes: v.pipe(v.array(OwnPath), v.maxLength(3)),
    /** Where all of it is told. */
    more: OwnPath,
  }),
})
export type ExchangeItem = v.InferOutput<typeof Item>

/** A page of items. */
export const ExchangeFeed = v.object({
  version: v.literal(FEED_VERSION),
  title: NameText,
  items: v.pipe(v.array(Item), v.maxLength(PAGE_ITEMS)),
  next_url: v.optional(ownPath(NEXT_MAX_CHARS)),
})
export type ExchangeFeed = v.InferOutput<typeof ExchangeFeed>

/** A recipe as any release of the product has written it, brought to the newest. */
const AnyRecipe = v.pipe(
  v.unknown(),
  v.rawTransform(({ dataset, addIssue, NEVER }) => {
    try {
      return parseRecipe(dataset.value)
    } catch {
      addIssue({ message: 'a recipe' })
      return NEVER
    }
  }),
)

const Picture = v.object({ path: OwnPath, sha256: PixelShaText })
const ExchangeBrush = v.object({
  /** As in the pack's manifest. */
  id: NameText,
  name: NameText,
  maker: LineText,
  licence: LineText,
  tags: v.pipe(v.array(NameText), v.maxLength(50)),
  recipe: AnyRecipe,
  /** Its frames by the names of their pixels, and where each is. */
  frames: v.pipe(v.array(Picture), v.minLength(1), v.maxLength(FRAMES_MAX)),
  grain: v.optional(Picture),
  stroke: OwnPath,
  /** Its mark as core keeps it, in base64url; empty where nothing is painted. */
  mark: v.pipe(v.string(), v.regex(/^[A-Za-z0-9_-]*$/), v.maxLength(MARK_MAX_CHARS)),
})
export type ExchangeBrush = v.InferOutput<typeof ExchangeBrush>

const Release = v.object({
  version: Version,
  date: Moment,
  notes: Text,
  path: OwnPath,
  sha256: FileShaText,
  sizeBytes: Count,
  signer: Fingerprint,
})
export type ExchangeRelease = v.InferOutput<typeof Release>

/** All that is told of one item: its releases, the newest first, and the brushes of that. */
export const ExchangeItemPage = v.object({
  ...Item.entries,
  _satchel: v.object({
    ...Item.entries._satchel.entries,
    releases: v.pipe(v.array(Release), v.minLength(1), v.maxLength(VERSIONS_MAX)),
    list: v.pipe(v.array(ExchangeBrush), v.maxLength(LISTED_BRUSHES)),
  }),
})
export type ExchangeItemPage = v.InferOutput<typeof ExchangeItemPage>

/** What a maker's key signs to take an item away: these bytes, in UTF-8. */
export const withdrawalText = (id: string, at: string): string => `satchel-exchange withdraw\n${id}\n${at}\n`

/** A maker takes an item away: its release can be had no more. */
export const Withdrawal = v.object({
  at: Moment,
  /** The Ed25519 signature of `withdrawalText`, base64url. */
  signature: v.pipe(v.string(), v.regex(/^[A-Za-z0-9_-]{86}$/, 'a signature of Ed25519')),
})

/** What an exchange answers to a release that was sent. */
export const Published = v.object({ id: ItemId, version: Version, page: OwnPath })
/** What it answers where it refuses something. */
export const ExchangeRefusal = v.object({ title: Text })

/** What is read of an exchange, a schema a kind. */
export const LISTINGS = {
  card: ExchangeCard,
  feed: ExchangeFeed,
  item: ExchangeItemPage,
  published: Published,
  withdrawn: v.object({ id: ItemId }),
  refusal: ExchangeRefusal,
} as const
export type ListingKind = keyof typeof LISTINGS
export type Listing<Kind extends ListingKind> = v.InferOutput<(typeof LISTINGS)[Kind]>

/**
 * Reads what an exchange answered.
 * @returns What it says, or where it is not what was asked for.
 * @throws {FormatError | LimitError} As `parseJson`.
 */
export function readListing<Kind extends ListingKind>(
  text: string,
  kind: Kind,
): { said: Listing<Kind> } | { wrong: string } {
  const result = v.safeParse(LISTINGS[kind], parseJson(text, 'listing'))
  if (result.success) return { said: result.output as Listing<Kind> }
  const [issue] = result.issues
  return { wrong: `${v.getDotPath(issue as never) ?? 'it'}: ${issue.message}` }
}
