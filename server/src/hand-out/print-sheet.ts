import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { PackManifest } from '@satchel/core/pack/manifest'
import { countLines, SHEET_BRUSHES_MAX } from '@satchel/core/sheet/contents'
import type { Paper } from '@satchel/node/sheet/paper'
import pMap from 'p-map'
import type { ReleaseBrush } from '../db/schema/all.ts'
import type { Deps } from '../deps.ts'
import { printedPicture } from '../pictures/renders.ts'
import type { PrintedFiles, PrintedKind } from '../workers/results.ts'

/** What a sheet is printed of, frozen: so that it is whole however long it takes. */
export type Printed = { workspaceId: string; manifest: PackManifest; brushes: readonly ReleaseBrush[] }

type Work = {
  /** Where its pictures and the sheet itself lie meanwhile. */
  folder: string
  signal: AbortSignal
  /** Told after each brush. */
  step: () => void
}

/** Whether all of a pack goes on one sheet. */
export const fitsOnSheet = (manifest: Pick<PackManifest, 'single' | 'sets'>): boolean =>
  countLines(manifest) <= SHEET_BRUSHES_MAX

/** Prints a pack. @returns The file of the PDF, in the folder of the work. */
export async function printPack(
  deps: Deps,
  printed: Printed,
  { paper, cover, ...work }: Work & { paper: Paper; cover?: Uint8Array | undefined },
): Promise<string> {
  const files = await paintAll(deps, printed, { ...work, kinds: ['stroke', 'tip'] })
  const to = join(work.folder, 'sheet.pdf')
  const { stroke = [], tip = [] } = files
  await deps.workers.run(
    'printSheet',
    { on: paper, to, manifest: printed.manifest, strokes: stroke, tips: tip, cover },
    { signal: work.signal },
  )
  return to
}

/** Prints the first chapter of a pack as a picture. @returns The file of the PNG. */
export async function printPicture(deps: Deps, printed: Printed, work: Work): Promise<string> {
  const { pictureStroke = [] } = await paintAll(deps, printed, { ...work, kinds: ['pictureStroke'] })
  const to = join(work.folder, 'sheet.png')
  await deps.workers.run(
    'printSheet',
    { on: 'picture', to, manifest: printed.manifest, strokes: pictureStroke },
    { signal: work.signal },
  )
  return to
}

/** Paints what is printed of each brush, a few at once, into files. */
async function paintAll(
  deps: Deps,
  { workspaceId, manifest, brushes }: Printed,
  { folder, signal, step, kinds }: Work & { kinds: readonly PrintedKind[] },
): Promise<Partial<Record<PrintedKind, PrintedFiles>>> {
  const stored = new Map(brushes.map((brush) => [brush.id, brush]))
  const files: Partial<Record<PrintedKind, PrintedFiles>> = {}
  for (const kind of kinds) files[kind] = []
  await pMap(
    manifest.brushes.entries(),
    async ([i, { id, recipe }]) => {
      const { blobs: frames = [], grainBlob: grain } = stored.get(id) ?? {}
      for (const what of kinds) {
        signal.throwIfAborted()
        const file = join(folder, `${i}-${what}.png`)
        await writeFile(file, await printedPicture(deps, workspaceId, { frames, grain, recipe, what }))
        files[what]?.push([id, file])
      }
      step()
    },
    { concurrency: deps.workers.threads, signal },
  )
  return files
}
