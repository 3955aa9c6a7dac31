import { checkDestination, type Destination } from '@satchel/core/destinations/destination'
import { listFitBrushes } from '../db/fit.ts'
import type { Deps } from '../deps.ts'
import { notFound } from '../errors.ts'
import { readFitInput } from './fit-input.ts'

/**
 * What becomes of a brush at a destination that is described, and need not be saved yet.
 * @throws {Refusal} If there is no such brush.
 */
export async function tryDestination(deps: Deps, workspaceId: string, destination: Destination, brushId: string) {
  const [brush] = await listFitBrushes(deps.db, workspaceId, [brushId])
  if (!brush) throw notFound('brush')
  const input = await readFitInput(deps, workspaceId, brush)
  const [measured] = await deps.workers.run('measureFits', { brush: input, to: [{ destination, choices: {} }] })
  if (!measured) throw notFound('brush')
  const sentences = checkDestination(destination)
  if ('refused' in measured) return { sentences, said: null, refused: measured.refused }
  const { score, result } = measured
  const choices = Object.fromEntries(result.ways.map(({ name, chosen }) => [name, chosen]))
  const { after: png } = await deps.workers.run('drawFit', { brush: input, destination, choices })
  const { approximated, left, files } = result
  const said = { score, approximated, left, files, png: Buffer.from(png).toString('base64') }
  return { sentences, said, refused: null }
}
