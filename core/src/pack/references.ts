import { FormatError } from '../errors.ts'
import type { PackBrush, PackManifest } from './manifest.ts'

const PACK = 'Satchel pack'

/**
 * Checks that everything a manifest names is in it.
 * @throws {FormatError} At the first reference that leads nowhere, or count that does not fit.
 */
export function checkReferences(manifest: PackManifest): void {
  const { brushes, grains, strips, single, sets, pockets } = manifest
  const ids = new Set(brushes.map((brush) => brush.id))
  if (ids.size !== brushes.length) throw new FormatError(PACK, undefined, 'each brush once')
  const lost = single.find((id) => !ids.has(id))
  if (lost !== undefined) throw new FormatError(PACK, undefined, `the single brush "${lost}" in the pack`)
  for (const set of sets) {
    const missing = set.brushes.find((id) => !ids.has(id))
    if (missing !== undefined)
      throw new FormatError(PACK, undefined, `the brush "${missing}" of set "${set.name}" in the pack`)
  }
  for (const pocket of pockets) {
    const missing = pocket.entries.find((entry) => !ids.has(entry.brush))
    if (missing)
      throw new FormatError(PACK, undefined, `the brush "${missing.brush}" of pocket "${pocket.name}" in the pack`)
  }
  const named = new Set([...grains, ...strips].map(({ sha256 }) => sha256))
  for (const brush of brushes) {
    checkFrames(brush)
    const { name, recipe, frames } = brush
    const wanted = [recipe.ground.grain?.sha256, recipe.path.ribbon && frames[0]]
    const missing = wanted.find((sha256) => sha256 !== undefined && !named.has(sha256))
    if (missing !== undefined)
      throw new FormatError(PACK, undefined, `the grain or strip ${missing} of "${name}" in the pack`)
  }
}

/** What counts a brush's frames agrees with how many there are. */
function checkFrames({ name, recipe, frames, frameNames, thumbnail }: PackBrush): void {
  const ruled = recipe.path.nextFrame.reduce((product, rule) => product * rule.frames, 1)
  if (ruled !== frames.length)
    throw new FormatError(
      PACK,
      undefined,
      `rules for the ${frames.length} frames of "${name}", found rules for ${ruled}`,
    )
  if (frameNames.length > 0 && frameNames.length !== frames.length)
    throw new FormatError(PACK, undefined, `a name for each of the ${frames.length} frames of "${name}", or none`)
  if (thumbnail.from === 'frame' && thumbnail.frame >= frames.length)
    throw new FormatError(PACK, undefined, `frame ${thumbnail.frame + 1}, the thumbnail of "${name}", in the pack`)
}
