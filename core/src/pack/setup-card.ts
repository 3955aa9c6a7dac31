import * as v from 'valibot'
import { NameText } from '../names.ts'

/** Sets that a card may name. */
export const HIDDEN_SETS_MAX = 1000

/** What a setup card does to a rack. The pocket that goes with it is the pack's own. */
export const RackSetup = v.strictObject({
  /** Sets of what it came with that are kept out of sight. */
  hidden: v.pipe(v.array(NameText), v.maxLength(HIDDEN_SETS_MAX)),
  /** Whether all other sets are, too. */
  hidesOthers: v.boolean(),
})
export type RackSetup = v.InferOutput<typeof RackSetup>

/** A rack's setup as it travels: with the moment at which all of it is put back, where there is one. */
export const SetupCard = v.strictObject({
  ...RackSetup.entries,
  until: v.nullable(v.pipe(v.string(), v.isoTimestamp())),
})
export type SetupCard = v.InferOutput<typeof SetupCard>
