import { toOpened } from '@satchel/core/make/opened'
import { guessPlan, type Plan } from '@satchel/core/make/ways'
import { demoFiles, demoSources } from '@satchel/drawn/demo/sources'
import { addSource } from '../db/sources.ts'
import type { Deps } from '../deps.ts'
import { storePicture } from '../starter/store-drawn.ts'
import { openSource } from '../workers/make-source.ts'

/** Lays the demo's sources on its workbench, each with its first guess. */
export async function seedSources(deps: Pick<Deps, 'db' | 'blobs'>, workspaceId: string): Promise<void> {
  for (const { name, way, picture, written } of await demoSources()) {
    const { blobSha, width, height } = await storePicture(picture, { ...deps, workspaceId })
    const file = {
      blobSha,
      width,
      height,
      kind: 'png',
      name: `${name.toLowerCase().replaceAll(/[^a-z]+/g, '-')}.png`,
      ...(written ? { written } : {}),
    }
    await addSource(deps.db, {
      workspaceId,
      name,
      file,
      plan: guessPlan(way, toOpened({ frames: [{ pixels: picture, name: '' }] })),
    })
  }
  for (const { name, way, file: fileName, bytes } of demoFiles()) {
    const opened = await openSource({ bytes, way })
    if ('refused' in opened) throw new Error(`${fileName}: ${opened.refused}`)
    const { sha256: blobSha } = await deps.blobs.put(deps.db, workspaceId, bytes, 'application/octet-stream')
    const { kind, width, height } = opened
    await addSource(deps.db, {
      workspaceId,
      name,
      file: { blobSha, width, height, kind, name: fileName },
      plan: turned(opened.plan),
    })
  }
}

/** A model is shown from where it looks best, and from a second side. */
function turned(plan: Plan): Plan {
  if (plan.way !== 'model') return plan
  const [view] = plan.model.views
  if (!view) return plan
  return {
    ...plan,
    model: {
      ...plan.model,
      views: [
        { ...view, yawDeg: 30, pitchDeg: 18 },
        { ...view, yawDeg: 140, pitchDeg: -12, rollDeg: 40 },
      ],
    },
  }
}
