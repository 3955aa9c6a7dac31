import { createHash } from 'node:crypto'
import { and, eq, isNull, ne, or, sql } from 'drizzle-orm'
import type { Db } from '../db/database.ts'
import { twoFactor } from '../db/schema/all.ts'

/** Longer than any code is good for: three steps of 30 s (RFC 6238, 5.2). */
const CODE_S = 120

/** A code of an app is six digits; what is longer is a recovery code. */
export const isOfApp = (code: string): boolean => /^\d{6}$/.test(code)

/** Notes that a code was used. @returns Whether it was not used just before: each is good once. */
export async function useOnce(db: Db, userId: string, code: string): Promise<boolean> {
  const hash = createHash('sha256').update(`${userId} ${code}`).digest('hex')
  const noted = await db
    .update(twoFactor)
    .set({ usedCode: hash, usedAt: sql`now()` })
    .where(
      and(
        eq(twoFactor.userId, userId),
        or(
          isNull(twoFactor.usedCode),
          ne(twoFactor.usedCode, hash),
          sql`${twoFactor.usedAt} < now() - make_interval(secs => ${CODE_S})`,
        ),
      ),
    )
    .returning({ id: twoFactor.id })
  return noted.length > 0
}
