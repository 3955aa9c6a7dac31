import { and, eq, isNull } from 'drizzle-orm'
import { findVersion } from './brush-versions.ts'
import type { Db } from './database.ts'
import type { Material } from './materials.ts'
import { saveBrush } from './save-brush.ts'
import { brush } from './schema/all.ts'

/**
 * Brushes of the library that use a grain paint with another one, each as a new version; what else the recipe says of the
 * grain stays. @returns How many.
 */
export async function replaceGrain(db: Db, { workspaceId, pixelSha }: Material, to: Material): Promise<number> {
  return db.transaction(async (tx) => {
    const users = await tx
      .select({ id: brush.id, version: brush.version })
      .from(brush)
      .where(and(eq(brush.workspaceId, workspaceId), eq(brush.grainSha, pixelSha), isNull(brush.deletedAt)))
      .for('update')
    let changed = 0
    for (const { id, version } of users) {
      const recipe = (await findVersion(tx, workspaceId, id, version))?.recipe
      if (!recipe?.ground.grain) continue
      const ground = { ...recipe.ground, grain: { ...recipe.ground.grain, sha256: to.pixelSha } }
      if (await saveBrush(tx, workspaceId, id, { to: { recipe: { ...recipe, ground } }, from: version })) changed++
    }
    return changed
  })
}
