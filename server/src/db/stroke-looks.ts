import type { PartName } from '@satchel/core/brush/parts'
import { LOOK_VERSION, type StrokeLook } from '@satchel/core/looks/stroke-look'
import { SIGNATURE_BYTES } from '@satchel/core/looks/stroke-signature'
import { ENGINE_VERSION } from '@satchel/core/stroke/engine-version'
import { type SQL, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { brush, strokeLook, tip } from './schema/all.ts'

/** What measured a look: where either is another one, it is measured anew. */
export const LOOK_RULES = `${LOOK_VERSION} ${ENGINE_VERSION}`

/** Brushes whose look is that of another version, or was never measured. */
const stale = (workspaceId: string): SQL => sql`from ${strokeLook} l join ${brush} b on b.id = l.brush_id
  where l.workspace_id = ${workspaceId} and b.deleted_at is null and (l.version <> b.version or l.rules <> ${LOOK_RULES})`

export async function hasStaleLooks(db: Db, workspaceId: string): Promise<boolean> {
  const { rows } = await db.execute(sql`select 1 ${stale(workspaceId)} limit 1`)
  return rows.length > 0
}

export async function countStaleLooks(db: Db, workspaceId: string): Promise<number> {
  const { rows } = await db.execute<{ n: number }>(sql`select count(*)::int as n ${stale(workspaceId)}`)
  return rows[0]?.n ?? 0
}

/** Some brushes whose look waits, those that came with the product last. */
export async function listStaleLooks(db: Db, workspaceId: string, most: number): Promise<string[]> {
  const { rows } = await db.execute<{ id: string }>(
    sql`select b.id ${stale(workspaceId)} order by b.starter, b.id limit ${most}`,
  )
  return rows.map(({ id }) => id)
}

export type NewLook = StrokeLook & { brushId: string; version: number; uses: PartName[] }

/** Notes what was measured. A version that came meanwhile is measured when it is its turn. */
export async function noteLooks(db: Db, workspaceId: string, looks: readonly NewLook[]): Promise<void> {
  const rows = looks.map(({ signature, ...look }) => ({ ...look, signature: Buffer.from(signature).toString('hex') }))
  await db.execute(sql`update ${strokeLook} set version = s.version, rules = ${LOOK_RULES}, darkness = s.darkness,
      width_px = s."widthPx", roughness = s.roughness, signature = decode(s.signature, 'hex'),
      uses = array(select jsonb_array_elements_text(s.uses))
    from jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) as s("brushId" uuid, version integer, darkness real,
      "widthPx" real, roughness real, uses jsonb, signature text)
    where ${strokeLook.workspaceId} = ${workspaceId} and ${strokeLook.brushId} = s."brushId"`)
}

export type Signed = { id: string; signature: Uint8Array }

/** What strokes of the library are found by, part by part in the order of their ids; what paints nothing has none. */
export async function listSignatures(db: Db, workspaceId: string, after: string, most: number): Promise<Signed[]> {
  const { rows } = await db.execute<Signed>(sql`select l.brush_id as id, l.signature from ${strokeLook} l
    join ${brush} b on b.id = l.brush_id
    where l.workspace_id = ${workspaceId} and l.brush_id > ${after}::uuid and b.deleted_at is null and not b.starter
      and l.rules = ${LOOK_RULES} and length(l.signature) = ${SIGNATURE_BYTES}
    order by l.brush_id limit ${most}`)
  return rows
}

/** The signature of one brush's stroke, of whichever version was measured last. */
export async function findSignature(db: Db, workspaceId: string, brushId: string): Promise<Uint8Array | undefined> {
  const { rows } = await db.execute<{ signature: Uint8Array | null }>(sql`select signature from ${strokeLook}
    where workspace_id = ${workspaceId} and brush_id = ${brushId} and rules = ${LOOK_RULES} and length(signature) = ${SIGNATURE_BYTES}`)
  return rows[0]?.signature ?? undefined
}

export type Keyed = { id: string; key: Uint8Array }

/** What marks of the library are found by, likewise. */
export async function listMarkKeys(db: Db, workspaceId: string, after: string, most: number): Promise<Keyed[]> {
  const { rows } =
    await db.execute<Keyed>(sql`select b.id, t.alike_key as key from ${brush} b join ${tip} t on t.id = b.tip_id
    where b.workspace_id = ${workspaceId} and b.id > ${after}::uuid and b.deleted_at is null and not b.starter
      and length(t.alike_key) > 0
    order by b.id limit ${most}`)
  return rows
}

/** The kept marks of some brushes. */
export async function listKeptMarks(
  db: Db,
  workspaceId: string,
  ids: readonly string[],
): Promise<{ id: string; mark: Uint8Array }[]> {
  const { rows } = await db.execute<{ id: string; mark: Uint8Array }>(sql`select b.id, t.alike_mark as mark
    from ${brush} b join ${tip} t on t.id = b.tip_id
    where b.workspace_id = ${workspaceId} and b.id = any(${sql.param(ids)}::uuid[]) and length(t.alike_mark) > 0`)
  return rows
}

/** What the mark of a brush is found by. */
export async function findPrint(
  db: Db,
  workspaceId: string,
  brushId: string,
): Promise<{ key: Uint8Array; mark: Uint8Array } | undefined> {
  const { rows } = await db.execute<{ key: Uint8Array | null; mark: Uint8Array | null }>(sql`select t.alike_key as key,
      t.alike_mark as mark from ${brush} b join ${tip} t on t.id = b.tip_id
    where b.workspace_id = ${workspaceId} and b.id = ${brushId}`)
  const { key, mark } = rows[0] ?? {}
  return key && mark && key.length > 0 ? { key, mark } : undefined
}
