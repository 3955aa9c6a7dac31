import pMap from 'p-map'
import type { AppDeps } from '../app-deps.ts'
import { findBrushForStroke } from '../db/brushes.ts'
import { listBrushIds } from '../db/list-brushes.ts'
import { LIST_TIP_SIDE_PX, STROKE_SIZES } from '../pictures/picture-sizes.ts'
import { strokePicture, tipPicture } from '../pictures/renders.ts'

/** So many brushes are seen before anybody scrolls. */
const SEEN = 14

/** Draws what is seen first of a library, so that its lists are not empty while somebody looks for the first time. */
export async function drawFirst(deps: AppDeps, workspaceId: string, pocketIds: readonly string[]): Promise<void> {
  const inList = await listBrushIds(deps, workspaceId, {}, { sort: 'name', from: 0, limit: SEEN })
  const draw = async (brushId: string, size: keyof typeof STROKE_SIZES) => {
    const brush = await findBrushForStroke(deps.db, workspaceId, brushId)
    if (!brush) return
    const frames = brush.frames.map(({ blobSha }) => blobSha)
    const { recipe, grain } = brush
    await strokePicture(deps, workspaceId, { frames, grain: grain?.blobSha, recipe, ...STROKE_SIZES[size] })
    const [blobSha] = frames
    const { reading } = recipe.colour
    if (size === 'line' && blobSha) await tipPicture(deps, workspaceId, { blobSha, reading, sidePx: LIST_TIP_SIDE_PX })
  }
  const wishes = [...inList.map((id) => [id, 'line'] as const), ...pocketIds.map((id) => [id, 'pocket'] as const)]
  await pMap(wishes, ([id, size]) => draw(id, size), { concurrency: deps.workers.threads })
}
