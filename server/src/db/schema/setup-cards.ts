import type { SetupCard } from '@satchel/core/pack/setup-card'
import { LaidOut, PuttingBack } from '@satchel/core/setup/rack'
import { boolean, index, pgTable, text, timestamp, uuid } from 'drizzle-orm/pg-core'
import * as v from 'valibot'
import { createdAt, inWorkspace, maybeAt, parsed } from './columns.ts'

/** A card that came with a pack in a ledger, and whether it is to be laid out when that is taken in. */
export type OfferedCard = {
  /** Of which pack; see `LineSource`. */
  key: string
  title: string
  setup: SetupCard | null
  /** Its pockets by name, with how many brushes each has. */
  pockets: { name: string; entries: number }[]
  isChosen: boolean
}

/** A setup card that was laid out here, and what it has changed, so that all of it can be put back. */
export const setupCard = pgTable(
  'setup_card',
  {
    id: uuid().primaryKey().defaultRandom(),
    workspaceId: inWorkspace(),
    gatherId: uuid().notNull(),
    title: text().notNull(),
    /** When it is put back by itself. */
    until: maybeAt(),
    /** The link it came by, where that is of this server: what ends that link earlier ends the card, too. */
    handOutId: uuid(),
    laid: parsed((stored) => v.parse(LaidOut, stored)).notNull(),
    laidAt: createdAt(),
    putBackAt: timestamp({ withTimezone: true }),
    /** What putting it back came to. */
    putBack: parsed((stored) => v.parse(PuttingBack, stored)),
    /** Whether its owner has seen that. */
    isSeen: boolean().notNull().default(false),
  },
  (t) => [index('setup_card_workspace').on(t.workspaceId), index('setup_card_until').on(t.until)],
)
