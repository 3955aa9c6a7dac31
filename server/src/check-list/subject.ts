import { FIGURES_VERSION } from '@satchel/core/check-list/figures'
import type { Subject, SubjectBrush } from '@satchel/core/check-list/subject'
import { ENGINE_VERSION } from '@satchel/core/stroke/engine-version'
import type { AppDeps } from '../app-deps.ts'
import {
  listElsewhere,
  listFigures,
  listLooked,
  listPackTips,
  listSeams,
  listVersionsBefore,
} from '../db/check-list.ts'
import { findMaterials } from '../db/materials.ts'
import { listPackBrushes } from '../db/pack-brushes.ts'
import { listPackSets, type Pack } from '../db/packs.ts'
import { type LoadedBrush, loadPackBrushes } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { allDestinations } from '../fit/destinations.ts'
import { knownCells } from '../fit/known-cells.ts'
import { peekAnswer } from '../pictures/kept-answers.ts'

/** Brushes whose cells are looked up at once: more would hold up others. */
const PART = 200

/** Names all that a brush's figures follow from. */
export const figuresKey = (
  { renders }: Pick<Deps, 'renders'>,
  { frames, recipe, thumbnail }: Pick<LoadedBrush, 'frames' | 'recipe' | 'thumbnail'>,
): string =>
  renders.key({
    figures: FIGURES_VERSION,
    engine: ENGINE_VERSION,
    frames: frames.map(({ pixelSha }) => pixelSha),
    recipe,
    thumbnail,
  })

/** Names all that decides which tips of a pack look alike. */
export const alikeQuestion = (tips: Awaited<ReturnType<typeof listPackTips>>) => ({
  alikeInPack: 1,
  tips: tips.map(({ brushId, pixelKey, reading }) => [brushId, pixelKey, reading]),
})

/** All that a check list looks at, as far as it is known, and how many brushes were measured. */
export async function openSubject(
  deps: AppDeps,
  pack: Pack,
): Promise<{ subject: Subject; measured: number; names: Map<string, string> }> {
  const { db, renders } = deps
  const { workspaceId, id } = pack
  const [loaded, order, sets, elsewhere, looked, tips, all] = await Promise.all([
    loadPackBrushes(db, workspaceId, id),
    listPackBrushes(db, workspaceId, id),
    listPackSets(db, workspaceId, id),
    listElsewhere(db, workspaceId, id),
    listLooked(db, workspaceId, id),
    listPackTips(db, workspaceId, id),
    allDestinations(db, workspaceId),
  ])
  const ids = loaded.map((brush) => brush.id)
  const destinations = all.filter((each) => pack.destinationIds.includes(each.id))
  const grainsNamed = loaded.flatMap(({ recipe }) => recipe.ground.grain?.sha256 ?? [])
  const [figures, seams, grains, stale, likeness, alike] = await Promise.all([
    listFigures(db, workspaceId, ids),
    listSeams(db, workspaceId, [...grainsNamed, ...loaded.flatMap(({ frames }) => frames[0]?.pixelSha ?? [])]),
    findMaterials(db, workspaceId, 'grain', grainsNamed),
    findStale(deps, workspaceId, loaded),
    likenessOf(deps, workspaceId, ids, new Set(destinations.map((each) => each.id))),
    peekAnswer<[string, string][]>(renders, alikeQuestion(tips)),
  ])
  const there = new Set(grains.map(({ pixelSha }) => pixelSha))
  const byId = new Map(loaded.map((brush) => [brush.id, brush]))
  const paintsOf = new Map(tips.map(({ brushId, pixelKey }) => [brushId, pixelKey]))
  let measured = 0
  const toSubject = (brush: LoadedBrush): SubjectBrush => {
    const known = figures.get(brush.id)
    const isFresh = known?.key === figuresKey(deps, brush)
    if (isFresh) measured++
    const grain = brush.recipe.ground.grain?.sha256
    const refused = isFresh && known && 'refused' in known.figures ? known.figures.refused : undefined
    return {
      id: brush.id,
      name: brush.name,
      maker: brush.maker,
      licence: brush.licence,
      version: brush.version,
      looked: looked.get(brush.id),
      paints: renders.key({ pixels: paintsOf.get(brush.id), recipe: brush.recipe }),
      frames: brush.frames.length,
      isThumbnailStale: stale.has(brush.id),
      isGrainGone: grain !== undefined && !there.has(grain),
      seam: seamOf(brush, seams),
      likeness: likeness.get(brush.id) ?? [],
      refused,
      figures: isFresh && known && !('refused' in known.figures) ? known.figures : undefined,
    }
  }
  return {
    names: new Map(loaded.map(({ id: brushId, name }) => [brushId, name])),
    get measured() {
      return measured
    },
    subject: {
      title: pack.title,
      maker: pack.maker,
      licence: pack.licence,
      help: pack.help,
      hasCover: pack.coverSha !== null || pack.coverBrushId !== null,
      destinations: destinations.map((each) => ({
        id: each.id,
        name: each.description.name,
        rules: each.description.names,
      })),
      leastLikeness: pack.leastLikeness,
      brushes: order.flatMap(({ id: brushId }) => {
        const brush = byId.get(brushId)
        return brush ? [toSubject(brush)] : []
      }),
      setNames: sets.map(({ name }) => name),
      elsewhere,
      alike,
    },
  }
}

type Seams = Awaited<ReturnType<typeof listSeams>>
function seamOf({ recipe, frames }: LoadedBrush, seams: Seams): SubjectBrush['seam'] {
  const grain = recipe.ground.grain && seams.get(`grain ${recipe.ground.grain.sha256}`)
  if (grain) return { of: 'grain', figure: Math.max(grain.across, grain.down) }
  // a strip that is stretched from end to end joins nothing
  const strip = recipe.path.ribbon?.lay === 'repeated' ? seams.get(`strip ${frames[0]?.pixelSha}`) : undefined
  return strip && { of: 'strip', figure: strip.across }
}

/** Brushes whose thumbnail was made of a region of the ground, and which paint otherwise since. */
async function findStale({ db }: AppDeps, workspaceId: string, brushes: readonly LoadedBrush[]): Promise<Set<string>> {
  const made = brushes.filter(({ thumbnail }) => thumbnail.from === 'region')
  if (made.length === 0) return new Set()
  const versions = await listVersionsBefore(
    db,
    workspaceId,
    made.map(({ id }) => id),
  )
  const stale = new Set<string>()
  for (const { id, thumbnail, recipe, tipId } of made) {
    const picture = JSON.stringify(thumbnail)
    const own = versions.filter(({ brushId }) => brushId === id)
    const end = own.findIndex(({ snapshot }) => JSON.stringify(snapshot.thumbnail) !== picture)
    const first = own.at(end < 0 ? -1 : end - 1)?.snapshot
    if (first && (first.tipId !== tipId || JSON.stringify(first.recipe) !== JSON.stringify(recipe))) stale.add(id)
  }
  return stale
}

/** How brushes arrive where the pack is meant to go, as far as that is known. */
async function likenessOf(
  deps: AppDeps,
  workspaceId: string,
  ids: readonly string[],
  destinations: ReadonlySet<string>,
): Promise<Map<string, SubjectBrush['likeness']>> {
  const found = new Map<string, SubjectBrush['likeness']>()
  if (destinations.size === 0) return found
  for (let at = 0; at < ids.length; at += PART)
    for (const { brushId, destinationId, said } of await knownCells(deps, workspaceId, ids.slice(at, at + PART), {
      measures: false,
    })) {
      if (!destinations.has(destinationId)) continue
      const known = found.get(brushId) ?? []
      found.set(brushId, [...known, { destinationId, score: said?.score }])
    }
  return found
}
