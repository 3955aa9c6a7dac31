import type { AuditKind } from '@satchel/core/members/audit'
import { and, desc, eq, lt } from 'drizzle-orm'
import type { Db } from './database.ts'
import { auditLine } from './schema/all.ts'

export type NewAuditLine = { workspaceId: string; person: string; kind: AuditKind; said: string }

export async function insertAuditLines(db: Db, lines: NewAuditLine[]): Promise<void> {
  if (lines.length > 0) await db.insert(auditLine).values(lines)
}

/** @param before The id of the last line that was had: those further down. */
export const listAuditLines = (
  db: Db,
  workspaceId: string,
  { kind, before, limit }: { kind?: AuditKind | undefined; before?: number | undefined; limit: number },
) =>
  db
    .select({
      id: auditLine.id,
      at: auditLine.at,
      person: auditLine.person,
      kind: auditLine.kind,
      said: auditLine.said,
    })
    .from(auditLine)
    .where(
      and(
        eq(auditLine.workspaceId, workspaceId),
        kind ? eq(auditLine.kind, kind) : undefined,
        before === undefined ? undefined : lt(auditLine.id, before),
      ),
    )
    .orderBy(desc(auditLine.id))
    .limit(limit)
