/** What stands in the audit list of a workspace, a row a kind: what it is called. */
export const AUDIT_KINDS = {
  release: 'Release',
  'hand-out': 'Hand-out',
  member: 'Member',
  deletion: 'Deletion',
  token: 'Token',
  key: 'Key',
  library: 'Whole library',
} as const
export type AuditKind = keyof typeof AUDIT_KINDS
export const AUDIT_KIND_NAMES = Object.keys(AUDIT_KINDS) as AuditKind[]

/** One line: when (ISO 8601, UTC), who, what. */
export type AuditLine = { at: string; person: string; kind: AuditKind; said: string }

export const AUDIT_HEADINGS = ['When (UTC)', 'Who', 'Kind', 'What'] as const

/** The cells of a line under `AUDIT_HEADINGS`. */
export const auditCells = ({ at, person, kind, said }: AuditLine): string[] => [at, person, AUDIT_KINDS[kind], said]
