import { type SQL, sql } from 'drizzle-orm'

/**
 * A query that gives one value, as a field of another. Drizzle drops the tables' names from columns that stand in a
 * field's own fragment, but not from those in a fragment inside it: hence this nesting.
 */
export const scalar = <T = number>(query: SQL) => sql<T>`(${query})`
