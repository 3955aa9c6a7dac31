import type { Destination } from '@satchel/core/destinations/destination'
import type { Choices } from '@satchel/core/destinations/fit-state'
import { ENGINE_VERSION } from '@satchel/core/stroke/engine-version'
import type { StoredFitBrush } from '../db/fit.ts'
import type { Deps } from '../deps.ts'
import type { FitInput } from '../workers/results.ts'

/** Counts changes of how brushes are planned, written and compared: what was measured before is measured anew. */
const FIT_VERSION = 4

/** The brush with its pictures at hand. */
export async function readFitInput(
  { blobs }: Pick<Deps, 'blobs'>,
  workspaceId: string,
  { name, set, maker, licence, recipe, frames, grain }: StoredFitBrush,
): Promise<FitInput> {
  return {
    name,
    set,
    maker,
    licence,
    recipe,
    frames: await Promise.all(frames.map((sha) => blobs.read(workspaceId, sha))),
    grain: grain && { name: grain.name, png: await blobs.read(workspaceId, grain.blobSha) },
  }
}

/** Names all that a measure follows from. */
export const fitKey = (
  { renders }: Pick<Deps, 'renders'>,
  { name, set, recipe, frames, grain }: StoredFitBrush,
  destination: Destination,
  choices: Choices,
): string => {
  const brush = { name, set, recipe, frames, grain: grain?.blobSha }
  return renders.key({
    fit: FIT_VERSION,
    engine: ENGINE_VERSION,
    brush,
    destination,
    choices: Object.entries(choices).sort(),
  })
}
