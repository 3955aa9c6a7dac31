import type { PackManifest } from '../pack/manifest.ts'
import { closedBrushes, endOf } from './lessons.ts'
import type { EditionPlan } from './plan.ts'

/** What a plan asks of a release: which brushes it has, where, under which tags. */
export type Choosable = {
  brushes: readonly { id: string; tags: readonly string[] }[]
  sets: readonly { name: string; brushes: readonly string[] }[]
}

/** The brushes of a release that an edition has, whatever its lessons say. */
export function takenBy(plan: EditionPlan, { brushes, sets }: Choosable): Set<string> {
  const { all, sets: names, tags, brushes: ids, without } = plan
  const taken = new Set(all ? brushes.map(({ id }) => id) : [])
  const [named, tagged, chosen] = [new Set(names), new Set(tags), new Set(ids)]
  for (const set of sets) if (named.has(set.name)) for (const id of set.brushes) taken.add(id)
  for (const brush of brushes)
    if (chosen.has(brush.id) || brush.tags.some((tag) => tagged.has(tag))) taken.add(brush.id)
  for (const id of without) taken.delete(id)
  return taken
}

/** The brushes of a release that whoever has an edition may have at a moment, in the order of the release. */
export function givenAt(plan: EditionPlan, release: Choosable, now: Date): string[] {
  const taken = takenBy(plan, release)
  const closed = plan.kit ? closedBrushes(plan.kit, now) : new Set<string>()
  return release.brushes.flatMap(({ id }) => (taken.has(id) && !closed.has(id) ? [id] : []))
}

/** What a plan names that a release does not have: a set that was renamed, say. */
export function missingFrom(plan: EditionPlan, { brushes, sets }: Choosable): { sets: string[]; tags: string[] } {
  const names = new Set(sets.map(({ name }) => name))
  const tags = new Set(brushes.flatMap((brush) => brush.tags))
  return {
    sets: plan.sets.filter((name) => !names.has(name)),
    tags: plan.tags.filter((tag) => !tags.has(tag)),
  }
}

/**
 * A manifest with some of its brushes, and nothing that tells of the others: no name, no place, no picture.
 * @param ids The brushes it keeps; their order and all that is said of them is that of the manifest.
 */
export function cutManifest(
  manifest: PackManifest,
  plan: EditionPlan,
  { ids, destinations }: { ids: readonly string[]; destinations: readonly string[] },
): PackManifest {
  const kept = new Set(ids)
  const only = (some: readonly string[]) => some.filter((id) => kept.has(id))
  const brushes = manifest.brushes.filter(({ id }) => kept.has(id))
  const grains = new Set(brushes.flatMap(({ recipe }) => recipe.ground.grain?.sha256 ?? []))
  const strips = new Set(brushes.flatMap(({ recipe, frames }) => (recipe.path.ribbon ? frames : [])))
  const licence = plan.licence || manifest.licence
  const names = new Set(manifest.sets.flatMap(({ name, brushes: members }) => (only(members).length > 0 ? [name] : [])))
  const pockets = plan.pocket ? [{ name: manifest.title, entries: plan.pocket }] : manifest.pockets
  return {
    ...manifest,
    licence,
    brushes: brushes.map((brush) => ({
      ...brush,
      licence: brush.licence === manifest.licence ? licence : brush.licence,
    })),
    grains: manifest.grains.filter(({ sha256 }) => grains.has(sha256)),
    strips: manifest.strips.filter(({ sha256 }) => strips.has(sha256)),
    single: only(manifest.single),
    sets: manifest.sets
      .map(({ name, brushes: members }) => ({ name, brushes: only(members) }))
      .filter((set) => set.brushes.length > 0),
    pockets: pockets
      .map(({ name, entries }) => ({ name, entries: entries.filter(({ brush }) => kept.has(brush)) }))
      .filter(({ entries }) => entries.length > 0),
    destinations: [...destinations],
    // a set that has nothing to show yet is not named
    ...(plan.setup && {
      setup: {
        hidden: plan.setup.hidden.filter((name) => names.has(name)),
        hidesOthers: plan.setup.hidesOthers,
        until: (plan.kit && endOf(plan.kit)?.toISOString()) ?? null,
      },
    }),
  }
}

/** Names that a text must not say: those of brushes that are left out, where no brush that stays is called the same. */
export function namesSaid(text: string, left: readonly string[], kept: readonly string[]): string[] {
  const there = new Set(kept.map((name) => name.toLowerCase()))
  const said = text.toLowerCase()
  return [...new Set(left)].filter((name) => !there.has(name.toLowerCase()) && said.includes(name.toLowerCase()))
}
