import pMap from 'p-map'
import { askAs } from '../asking.ts'
import { listFigures, listPackTips, saveFigures } from '../db/check-list.ts'
import { listCells, listFitBrushes } from '../db/fit.ts'
import { listChoices } from '../db/fit-choices.ts'
import type { ComparedTip } from '../db/gather-duplicates.ts'
import { findMaterials } from '../db/materials.ts'
import { findPack, type Pack } from '../db/packs.ts'
import { type LoadedBrush, loadPackBrushes } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { TaskGivenUp } from '../errors.ts'
import { allDestinations } from '../fit/destinations.ts'
import { fitKey } from '../fit/fit-input.ts'
import { type FitWish, measureBrush } from '../fit/measurer.ts'
import { groupAlike, judgePixels } from '../gather/group-alike.ts'
import { findAnswer } from '../pictures/kept-answers.ts'
import type { JobContext, JobHandler } from '../queue/queue.ts'
import { alikeQuestion, figuresKey } from './subject.ts'

/** Brushes that are looked up at once. */
const PART = 50
/** After so many brushes the page is told that there is something new. */
const TOLD_EVERY = 20

/**
 * Measures what the check list of a pack wants to know of its brushes: their pixels and strokes, how they arrive where the pack
 * is meant to go, and which look alike. What is known is passed over, so it can go on later.
 */
export const checkPackJob = (deps: Deps): JobHandler<'check-pack'> => ({
  run: (context) => askAs({ isBehind: true }, () => measure(deps, context)),
})

async function measure(deps: Deps, { job, progress, signal }: JobContext<'check-pack'>): Promise<void> {
  const { workspaceId, subjectId } = job
  const pack = await findPack(deps.db, workspaceId, subjectId)
  if (!pack) return
  const brushes = await loadPackBrushes(deps.db, workspaceId, pack.id)
  const known = await listFigures(
    deps.db,
    workspaceId,
    brushes.map(({ id }) => id),
  )
  const unknown = brushes.filter((brush) => known.get(brush.id)?.key !== figuresKey(deps, brush))
  const wishes = await unknownFits(deps, pack, brushes)
  const total = unknown.length + wishes.length + 1
  let done = 0
  const step = async () => {
    progress(++done, total)
    if (done % TOLD_EVERY === 0) await deps.events.publish({ workspaceId, topic: 'packs', id: pack.id })
  }
  const options = { concurrency: deps.workers.threads, signal }
  await pMap(unknown, (brush) => measureOne(deps, workspaceId, brush).then(step), options)
  await pMap(wishes, (wish) => measureBrush(deps, wish).then(step), options)
  const tips = await listPackTips(deps.db, workspaceId, pack.id)
  await findAnswer(deps.renders, alikeQuestion(tips), async () => {
    const confirm = (own: ComparedTip, original: ComparedTip) => judgePixels(deps, workspaceId, own, original)
    const copies = await groupAlike(deps, workspaceId, { originals: [], others: tips, confirm, signal })
    const idOf = new Map(tips.map((each) => [each as object, each.brushId]))
    return copies.flatMap(({ own, original }) => {
      const [one, other] = [idOf.get(original), idOf.get(own)]
      return one && other ? [[one, other]] : []
    })
  })
  await step()
  await deps.events.publish({ workspaceId, topic: 'packs', id: pack.id })
}

async function measureOne(deps: Deps, workspaceId: string, brush: LoadedBrush): Promise<void> {
  const { blobs, workers, db } = deps
  const { frames, recipe, thumbnail, id } = brush
  const grainSha = recipe.ground.grain?.sha256
  const [grain] = grainSha ? await findMaterials(db, workspaceId, 'grain', [grainSha]) : []
  const pictures = {
    frames: await Promise.all(frames.map(({ blobSha }) => blobs.read(workspaceId, blobSha))),
    grain: grain && (await blobs.read(workspaceId, grain.blobSha)),
  }
  const figures = await workers.run('measureBrush', { ...pictures, recipe, thumbnail }).catch((error: unknown) => {
    // one brush that is too much for it leaves the others to be looked at
    if (error instanceof TaskGivenUp) return { refused: error.message }
    throw error
  })
  await saveFigures(db, { workspaceId, brushId: id, key: figuresKey(deps, brush), figures })
}

/** Where brushes of a pack were not measured yet, of the destinations that it is meant for. */
async function unknownFits(deps: Deps, pack: Pack, brushes: readonly LoadedBrush[]): Promise<FitWish[]> {
  const { workspaceId } = pack
  const destinations = (await allDestinations(deps.db, workspaceId)).filter(({ id }) =>
    pack.destinationIds.includes(id),
  )
  const destinationIds = destinations.map(({ id }) => id)
  const wishes: FitWish[] = []
  for (let at = 0; at < brushes.length && destinations.length > 0; at += PART) {
    const ids = brushes.slice(at, at + PART).map(({ id }) => id)
    const [some, cells, choicesOf] = await Promise.all([
      listFitBrushes(deps.db, workspaceId, ids),
      listCells(deps.db, workspaceId, ids, destinationIds),
      listChoices(deps.db, workspaceId, destinationIds, ids),
    ])
    const known = new Set(cells.map(({ brushId, destinationId, key }) => `${brushId} ${destinationId} ${key}`))
    for (const brush of some) {
      const to = destinations.flatMap(({ id: destinationId, description: destination }) => {
        const choices = choicesOf(brush.id, destinationId)
        const key = fitKey(deps, brush, destination, choices)
        return known.has(`${brush.id} ${destinationId} ${key}`) ? [] : [{ destinationId, destination, choices, key }]
      })
      if (to.length > 0) wishes.push({ workspaceId, brush, to })
    }
  }
  return wishes
}
