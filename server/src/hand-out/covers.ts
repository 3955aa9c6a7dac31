import type { CoverCrop, CoverPlan } from '@satchel/core/cover/cover'
import type { FileSha } from '@satchel/core/hashes'
import { sql } from 'drizzle-orm'
import { findMaterials } from '../db/materials.ts'
import type { Pack } from '../db/packs.ts'
import { setCover } from '../db/packs.ts'
import { loadBrushes } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { notFound, Refusal } from '../errors.ts'

/**
 * Paints a cover as it is composed.
 * @throws {Refusal} If a brush of it is gone.
 */
export async function paintCover(deps: Deps, workspaceId: string, plan: CoverPlan): Promise<Uint8Array> {
  const ids = [...new Set(plan.strokes.map(({ brushId }) => brushId))]
  const found =
    ids.length === 0 ? [] : await loadBrushes(deps.db, workspaceId, sql`(select unnest(${toArray(ids)}::uuid[]))`)
  const byId = new Map(found.map((brush) => [brush.id, brush]))
  const grains = found.flatMap(({ recipe }) => (recipe.ground.grain ? [recipe.ground.grain.sha256] : []))
  const grainFiles = new Map(
    (await findMaterials(deps.db, workspaceId, 'grain', grains)).map(({ pixelSha, blobSha }) => [pixelSha, blobSha]),
  )
  const read = (sha: FileSha) => deps.blobs.read(workspaceId, sha)
  const brushes = []
  for (const { brushId } of plan.strokes) {
    const brush = byId.get(brushId)
    if (!brush) throw notFound('brush')
    const { recipe, frames } = brush
    const grain = recipe.ground.grain && grainFiles.get(recipe.ground.grain.sha256)
    brushes.push({
      recipe,
      frames: await Promise.all(frames.map(({ blobSha }) => read(blobSha))),
      grain: grain === undefined ? undefined : await read(grain),
    })
  }
  return deps.workers.run('paintCover', { plan, brushes })
}

/** An array of ids as PostgreSQL writes one. */
const toArray = (ids: readonly string[]) => `{${ids.join(',')}}`

/** Keeps a cover that is composed, painted once. @throws {Refusal} As `paintCover`. */
export async function composeCover(deps: Deps, pack: Pack, plan: CoverPlan): Promise<void> {
  await keep(deps, pack, await paintCover(deps, pack.workspaceId, plan), plan)
}

/** Keeps a part of a picture as cover. @throws {Refusal} If the picture is none that is taken. */
export async function takeCover(
  deps: Deps,
  pack: Pack,
  { bytes, crop }: { bytes: Uint8Array; crop: CoverCrop },
): Promise<void> {
  const made = await deps.workers.run('cropCover', { bytes, crop })
  if ('refused' in made) throw new Refusal('unfit', `${made.refused} Choose another picture.`)
  await keep(deps, pack, made.png, null)
}

async function keep({ db, blobs }: Deps, { workspaceId, id }: Pack, png: Uint8Array, cover: CoverPlan | null) {
  await db.transaction(async (tx) => {
    const { sha256 } = await blobs.put(tx, workspaceId, png, 'image/png')
    if (!(await setCover(tx, { workspaceId, id }, { cover, coverSha: sha256 }))) throw notFound('pack')
  })
}
