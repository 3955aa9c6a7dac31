import { parseRecipe } from '@satchel/core/brush/migrate-recipe'
import type { Recipe } from '@satchel/core/brush/recipe'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { customType, text, timestamp, uuid } from 'drizzle-orm/pg-core'
import { workspace } from './accounts.ts'

/** Raw bytes. */
export const bytea = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (value) => Buffer.from(value.buffer, value.byteOffset, value.byteLength),
  fromDriver: (value) => new Uint8Array(value),
})

/** The name of a stored file; whoever holds one keeps that file alive (see `picture-owners.ts`). */
export const fileSha = () => text().$type<FileSha>()
/** The name of a picture's pixels. */
export const pixelSha = () => text().$type<PixelSha>()

/** A name, or a path: where such are ordered, numbers in them count as numbers, so that "coins 2" comes before "coins 10". */
export const named = customType<{ data: string }>({ dataType: () => 'text COLLATE "natural_order"' })

/**
 * What is stored as JSON, parsed wherever it is read through the column: what an earlier release has written comes out as this
 * one writes it. A part of it that SQL asks for by its name is as it was stored.
 * @param parse Takes what is stored; throws where that is none of it.
 */
export const parsed = <Data>(parse: (stored: unknown) => Data) =>
  customType<{ data: Data; driverData: unknown }>({
    dataType: () => 'jsonb',
    toDriver: (value) => JSON.stringify(value),
    fromDriver: parse,
  })()

/** What holds a recipe, which is brought to the newest version. */
export const withRecipe =
  <Holder extends { recipe: Recipe }>() =>
  (stored: unknown): Holder => {
    const holder = stored as Holder
    return { ...holder, recipe: parseRecipe(holder.recipe) }
  }

/** The workspace a row belongs to; every table of the library has it and every query names it. */
export const inWorkspace = () =>
  uuid()
    .notNull()
    .references(() => workspace.id, { onDelete: 'cascade' })

export const createdAt = () => timestamp({ withTimezone: true }).notNull().defaultNow()
export const maybeAt = () => timestamp({ withTimezone: true })
