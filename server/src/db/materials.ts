import { SEAM_MEASURE, type SeamFigures } from '@satchel/core/grain/seam'
import type { FileSha, PixelSha } from '@satchel/core/hashes'
import { and, asc, eq, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm'
import type { Db } from './database.ts'
import { inParts, isAnyOf } from './many.ts'
import { scalar } from './scalar.ts'
import { brush, material, tip } from './schema/all.ts'

export type Material = typeof material.$inferSelect
export type NewMaterial = Omit<typeof material.$inferInsert, 'id' | 'workspaceId' | 'createdAt' | 'deletedAt'>
export type MaterialKind = Material['kind']

/** Brushes that lie in the library and use a material: as their grain, or as the strip of a ribbon. */
const uses = scalar(sql`
  select count(*) from ${brush}
  where ${brush.workspaceId} = ${material.workspaceId} and ${brush.deletedAt} is null and (
    (${material.kind} = 'grain' and ${brush.grainSha} = ${material.pixelSha}) or
    (${material.kind} = 'strip' and ${brush.ribbon} and exists (
      select 1 from ${tip} where ${tip.id} = ${brush.tipId} and ${tip.pixelKey} = ${material.pixelSha})))`).mapWith(
  Number,
)

/** Grains and strips by name, each with how many brushes use it. */
export async function listMaterials(db: Db, workspaceId: string, { bin }: { bin: boolean }) {
  return db
    .select({
      id: material.id,
      kind: material.kind,
      name: material.name,
      blobSha: material.blobSha,
      pixelSha: material.pixelSha,
      width: material.width,
      height: material.height,
      seamAcross: material.seamAcross,
      seamDown: material.seamDown,
      uses,
    })
    .from(material)
    .where(and(eq(material.workspaceId, workspaceId), bin ? isNotNull(material.deletedAt) : isNull(material.deletedAt)))
    .orderBy(sql`lower(${material.name})`, asc(material.id))
}

/** The brushes that use a material, by name. */
export async function listMaterialBrushes(db: Db, { workspaceId, kind, pixelSha }: Material) {
  const used =
    kind === 'grain'
      ? eq(brush.grainSha, pixelSha)
      : and(eq(brush.ribbon, true), inArray(brush.tipId, tipsOf(db, workspaceId, pixelSha)))
  return db
    .select({ id: brush.id, name: brush.name, behaviour: brush.behaviour })
    .from(brush)
    .where(and(eq(brush.workspaceId, workspaceId), isNull(brush.deletedAt), used))
    .orderBy(sql`lower(${brush.name})`, asc(brush.id))
}

const tipsOf = (db: Db, workspaceId: string, pixelSha: PixelSha) =>
  db
    .select({ id: tip.id })
    .from(tip)
    .where(and(eq(tip.workspaceId, workspaceId), eq(tip.pixelKey, pixelSha)))

export async function findMaterial(db: Db, workspaceId: string, id: string): Promise<Material | undefined> {
  const [row] = await db
    .select()
    .from(material)
    .where(and(eq(material.workspaceId, workspaceId), eq(material.id, id)))
  return row
}

/** The grain that a recipe names; one in the bin still paints. */
export async function findGrain(
  db: Db,
  workspaceId: string,
  pixelSha: PixelSha | undefined,
): Promise<Material | undefined> {
  if (pixelSha === undefined) return undefined
  const [row] = await findMaterials(db, workspaceId, 'grain', [pixelSha])
  return row
}

export async function findMaterials(
  db: Db,
  workspaceId: string,
  kind: MaterialKind,
  pixelShas: readonly PixelSha[],
): Promise<Material[]> {
  if (pixelShas.length === 0) return []
  return db
    .select()
    .from(material)
    .where(and(eq(material.workspaceId, workspaceId), eq(material.kind, kind), isAnyOf(material.pixelSha, pixelShas)))
}

/**
 * Adds grains and strips. One that is there already stays as it is called; one in the bin comes back.
 * @returns The ids of those that were not there before.
 */
export async function addMaterials(db: Db, workspaceId: string, materials: readonly NewMaterial[]): Promise<string[]> {
  const once = new Map(materials.map((each) => [`${each.kind} ${each.pixelSha}`, each]))
  const added: string[] = []
  for (const some of inParts(material, [...once.values()])) {
    const rows = await db
      .insert(material)
      .values(some.map((each) => ({ workspaceId, ...each })))
      .onConflictDoUpdate({
        target: [material.workspaceId, material.kind, material.pixelSha],
        set: { deletedAt: null },
      })
      // a row that was only updated has a transaction behind it that made it so
      .returning({ id: material.id, isNew: sql<boolean>`xmax = 0` })
    added.push(...rows.filter(({ isNew }) => isNew).map(({ id }) => id))
  }
  return added
}

export async function renameMaterial(db: Db, workspaceId: string, id: string, name: string): Promise<boolean> {
  const rows = await db
    .update(material)
    .set({ name })
    .where(and(eq(material.workspaceId, workspaceId), eq(material.id, id)))
    .returning({ id: material.id })
  return rows.length > 0
}

/** Grains and strips whose seams were measured in an older way, a few at a time. */
export async function listOldSeams(db: Db, limit: number): Promise<Material[]> {
  return db.select().from(material).where(lt(material.seamMeasure, SEAM_MEASURE)).orderBy(asc(material.id)).limit(limit)
}

export async function saveSeam(db: Db, { workspaceId, id }: Material, { across, down }: SeamFigures): Promise<void> {
  await db
    .update(material)
    .set({ seamAcross: across, seamDown: down, seamMeasure: SEAM_MEASURE })
    .where(and(eq(material.workspaceId, workspaceId), eq(material.id, id)))
}

/** Puts a grain or strip into the bin, or brings it back. Brushes that use it go on painting with it. */
export async function binMaterial(db: Db, workspaceId: string, id: string, deleted: boolean): Promise<boolean> {
  const rows = await db
    .update(material)
    .set({ deletedAt: deleted ? new Date() : null })
    .where(and(eq(material.workspaceId, workspaceId), eq(material.id, id)))
    .returning({ id: material.id })
  return rows.length > 0
}

/** Deletes for good what lies in the bin since before `until` and no brush uses, not even one in the bin. */
export async function emptyMaterialBin(db: Db, workspaceId: string, until: Date): Promise<FileSha[]> {
  const gone = await db
    .delete(material)
    .where(
      and(
        eq(material.workspaceId, workspaceId),
        sql`${material.deletedAt} < ${until}`,
        sql`not exists (select 1 from ${brush} where ${brush.workspaceId} = ${material.workspaceId} and ${brush.grainSha} = ${material.pixelSha})`,
        sql`not exists (select 1 from brush_version v where v.workspace_id = ${material.workspaceId} and v.snapshot #>> '{recipe,ground,grain,sha256}' = ${material.pixelSha})`,
      ),
    )
    .returning({ blobSha: material.blobSha })
  return gone.map((row) => row.blobSha)
}
