import type { AlikePrint } from '@satchel/core/alike/alike-print'
import type { Mend } from '@satchel/core/check-list/rules'
import { toNameKey } from '@satchel/core/formats/text'
import { HEAVY_TIP_SIDE_PX } from '@satchel/core/limits'
import { findBrush } from '../db/brushes.ts'
import { setLooked } from '../db/check-list.ts'
import { addMaterials, findGrain } from '../db/materials.ts'
import { listPackBrushes } from '../db/pack-brushes.ts'
import type { Pack } from '../db/packs.ts'
import { saveBrush } from '../db/save-brush.ts'
import type { Deps } from '../deps.ts'
import { Refusal } from '../errors.ts'
import { saveThumbnail } from '../library/save-thumbnail.ts'
import { storeFrames } from '../library/store-frames.ts'
import type { ReadFrame } from '../workers/results.ts'

type Brush = NonNullable<Awaited<ReturnType<typeof findBrush>>>
type Where = { deps: Deps; pack: Pack; brush: Brush }
/** @returns The new version of the brush; undefined where it has moved on meanwhile. @throws {Refusal} Where it can't be mended so. */
type Mending = (where: Where) => Promise<number | undefined>

const readFrames = ({ deps, pack: { workspaceId }, brush }: Where) =>
  Promise.all(brush.pictures.map(({ blobSha }) => deps.blobs.read(workspaceId, blobSha)))

type NewFrames = { frames: ReadFrame[]; names?: string[]; alike: AlikePrint | undefined }

/** Gives the brush other frames. */
const store = ({ deps, pack: { workspaceId }, brush }: Where, changed: NewFrames) =>
  storeFrames(deps, {
    workspaceId,
    id: brush.id,
    from: brush.version,
    names: changed.names ?? brush.pictures.map(({ name }) => name),
    frames: changed.frames,
    alike: changed.alike,
  })

const changeFrames =
  (how: { even: boolean; blacken: boolean }): Mending =>
  async (where) => {
    const { brush, deps } = where
    const frames = await readFrames(where)
    const even = how.even ? { size: true, align: 'no' as const, tone: true } : undefined
    const { reading } = brush.recipe.colour
    const changed = await deps.workers.run('changeFrames', { frames, reading, edits: [], even, blacken: how.blacken })
    if ('refused' in changed) throw new Refusal('unfit', changed.refused)
    return store(where, changed)
  }

const take =
  (what: 'maker' | 'licence'): Mending =>
  ({ deps, pack, brush }) =>
    saveBrush(deps.db, pack.workspaceId, brush.id, { to: { [what]: pack[what] }, from: brush.version })

/** How each mend is carried out; the compiler holds the table complete. */
const MENDINGS: Record<Exclude<Mend, 'lookedAt'>, Mending> = {
  async smaller(where) {
    const frames: ReadFrame[] = []
    for (const png of await readFrames(where))
      frames.push(await where.deps.workers.run('shrink', { png, sidePx: HEAVY_TIP_SIDE_PX }))
    const [first] = frames
    const { reading } = where.brush.recipe.colour
    const alike = first && (await where.deps.workers.run('printAlike', { png: first.png, reading }))
    return store(where, { frames, alike })
  },
  evenOut: changeFrames({ even: true, blacken: false }),
  blacken: changeFrames({ even: false, blacken: true }),
  async dropFrames(where) {
    const { brush, deps } = where
    if (brush.recipe.path.nextFrame.length > 1)
      throw new Refusal('unfit', 'Its frames lie in a grid, where none can go alone; mend them under Frames.')
    const frames = await readFrames(where)
    const { recipe, thumbnail } = brush
    const { blank } = await deps.workers.run('measureBrush', { frames, recipe, thumbnail })
    const keep = frames.flatMap((png, at) => (blank.includes(at + 1) ? [] : [{ png, at }]))
    const order = keep.length > 0 ? keep : frames.map((png, at) => ({ png, at }))
    const changed = await deps.workers.run('changeFrames', {
      frames: order.map(({ png }) => png),
      reading: recipe.colour.reading,
      edits: [],
      blacken: false,
    })
    if ('refused' in changed) throw new Refusal('unfit', changed.refused)
    return store(where, { ...changed, names: order.map(({ at }) => brush.pictures[at]?.name ?? '') })
  },
  strokeThumbnail: ({ deps, pack, brush }) =>
    saveThumbnail(deps, pack.workspaceId, brush.id, {
      thumbnail: { from: 'stroke' },
      png: undefined,
      from: brush.version,
    }),
  async closeSeam({ deps, pack: { workspaceId }, brush }) {
    const grain = await findGrain(deps.db, workspaceId, brush.recipe.ground.grain?.sha256)
    const settings = brush.recipe.ground.grain
    if (!grain || !settings)
      throw new Refusal('unfit', 'A strip is joined by hand: find where it repeats under Tune, Path.')
    const png = await deps.blobs.read(workspaceId, grain.blobSha)
    const closed = await deps.workers.run('closeSeam', { png })
    if ('refused' in closed) throw new Refusal('unfit', closed.refused)
    const { frame, seam } = closed
    return deps.db.transaction(async (tx) => {
      const { sha256: blobSha } = await deps.blobs.put(tx, workspaceId, frame.png, 'image/png')
      const { pixelSha, width, height } = frame
      const facts = { kind: 'grain' as const, name: `${grain.name}, closed`, blobSha, pixelSha, width, height }
      await addMaterials(tx, workspaceId, [{ ...facts, seamAcross: seam.across, seamDown: seam.down }])
      const recipe = { ...brush.recipe, ground: { grain: { ...settings, sha256: pixelSha } } }
      return saveBrush(tx, workspaceId, brush.id, { to: { recipe }, from: brush.version })
    })
  },
  takeMaker: take('maker'),
  takeLicence: take('licence'),
  async numberName({ deps, pack, brush }) {
    const others = await listPackBrushes(deps.db, pack.workspaceId, pack.id)
    const taken = new Set(others.filter(({ id }) => id !== brush.id).map(({ name }) => toNameKey(name.trim())))
    const base = brush.name.trim().replace(/ \d{1,6}$/, '')
    let n = 2
    while (taken.has(toNameKey(`${base} ${n}`))) n++
    return saveBrush(deps.db, pack.workspaceId, brush.id, { to: { name: `${base} ${n}` }, from: brush.version })
  },
}

/** What was done to a brush, so that it can be undone: the version before and after, or what was looked at before. */
export type Mended = { id: string; from: number; to: number } | { id: string; looked: number | null }

/**
 * Mends a finding of a brush.
 * @throws {Refusal} Where the brush is gone or has moved on meanwhile, or cannot be mended so.
 */
export async function mendBrush(
  deps: Deps,
  pack: Pack,
  { mend, brushId, looked }: { mend: Mend; brushId: string; looked: number | null },
): Promise<Mended> {
  const brush = await findBrush(deps.db, pack.workspaceId, brushId)
  if (!brush || brush.deletedAt) throw new Refusal('gone', 'It is not there any more.')
  if (mend === 'lookedAt') {
    await setLooked(deps.db, pack.workspaceId, pack.id, [{ brushId, looked: brush.version }])
    return { id: brushId, looked }
  }
  const to = await MENDINGS[mend]({ deps, pack, brush })
  if (to === undefined) throw new Refusal('clash', 'It was changed somewhere else meanwhile; look at it again.')
  return { id: brushId, from: brush.version, to }
}
