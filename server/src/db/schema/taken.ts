import type { Standing } from '@satchel/core/newer/merge'
import { parseBrushState } from '@satchel/core/newer/state'
import type { ToldUnit } from '@satchel/core/newer/told'
import { index, jsonb, pgTable, primaryKey, text, unique, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, inWorkspace, parsed } from './columns.ts'
import { AtExchange } from './exchanges.ts'
import { brush } from './library.ts'

/** A set of a pack by its name there, and the set of the rack that its brushes went to. */
const TakenSets = v.array(v.strictTuple([v.string(), v.pipe(v.string(), v.uuid())]))
export type TakenSet = [name: string, setId: string]

/** A pack of which something was taken in, and its newest release so far. */
export const takenPack = pgTable(
  'taken_pack',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    /** What its releases are known by; see `packKey`. */
    key: text().notNull(),
    title: text().notNull(),
    release: text().notNull(),
    sets: parsed((stored) => v.parse(TakenSets, stored)).notNull(),
    takenAt: createdAt(),
    /** The exchange that it came from last, and the newest release that was seen there. */
    exchange: parsed((stored) => v.parse(AtExchange, stored)),
    seenThere: text(),
    /** The ledger that wrote it last, and what stood here before that, as long as it can be taken back. */
    setBy: uuid(),
    previous: jsonb().$type<{ title: string; release: string; sets: TakenSet[] }>(),
  },
  (t) => [unique('taken_pack_key').on(t.workspaceId, t.key)],
)

/** A brush that came out of a pack, and all of it as its maker gave it: by that it is told later who has changed what. */
export const takenBrush = pgTable(
  'taken_brush',
  {
    workspaceId: inWorkspace(),
    /** What the brush is called by its maker's library: the same in all releases and packs of it. */
    origin: uuid().notNull(),
    packId: uuid()
      .notNull()
      .references(() => takenPack.id, { onDelete: 'cascade' }),
    /** Which brush it is here; none once that was deleted for good. */
    brushId: uuid().references(() => brush.id, { onDelete: 'set null' }),
    /** Of which release it was taken last, and whose key has signed that; empty where nobody's. */
    release: text().notNull(),
    signer: text().notNull().default(''),
    base: parsed(parseBrushState).notNull(),
    setBy: uuid(),
    /** As it is stored: it is only put back. */
    previous: jsonb().$type<{
      packId: string
      brushId: string | null
      release: string
      signer: string
      base: unknown
    }>(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.origin] }),
    index('taken_brush_brush').on(t.brushId),
    index('taken_brush_pack').on(t.packId),
  ],
)

/** The pack that a line came in. */
export type LineSource = {
  key: string
  title: string
  release: string
  /** Whose key has signed it; empty or absent where nobody's. */
  signer?: string
  /** The exchange that it came from, if it did. */
  exchange?: AtExchange
}

/**
 * How a line stands to the brush that was taken of it before: as `Standing` says; or its release is older than what is here; or the
 * brush lies in the bin, or was deleted for good.
 */
export type LineStanding = Standing | 'older' | 'binned' | 'removed'
export type LineTaken = {
  standing: LineStanding
  brushId: string | null
  /** What it is called here. */
  name: string
  /** Of which release it was taken. */
  had: string
  /** That it is not signed by whom that release was signed by. */
  isStrange?: boolean
  /** What was changed, and by whom. */
  units: ToldUnit[]
}
