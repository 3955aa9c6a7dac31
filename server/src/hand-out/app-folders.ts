import type { Destination } from '@satchel/core/destinations/destination'
import type { FitFile } from '@satchel/core/destinations/write-files'
import { UniqueNames } from '@satchel/core/pack/file-name'
import { APPS_FOLDER, type PackEntry } from '@satchel/core/pack/write'
import { nodeHashBytes } from '@satchel/node/hash'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import { brushesOf } from '../fit/brush-source.ts'
import { type CarryOver, carryOverPages, describeCarryOver } from '../fit/carry-over.ts'
import { type WrittenFiles, writeBrushesTo } from '../fit/write-brushes.ts'

/** The folder of each app that a release is meant for. */
export function appFolders({ destinations }: Pick<Release, 'destinations'>) {
  const names = new UniqueNames()
  return destinations.map((destination) => {
    const { name, appVersion }: Destination = destination.description
    return { ...destination, folder: `${APPS_FOLDER}/${names.take(`${name} ${appVersion}`.trim())}` }
  })
}

type Adding = {
  signal: AbortSignal
  /** Told how many brushes are through, one after another. */
  step: () => void
  add: (entry: PackEntry) => Promise<void>
}

/** What went into the folder of an app, for whoever is told of it later. */
export type AddedApp = {
  id: string
  folder: string
  carryOver: CarryOver
  written: Pick<WrittenFiles, 'files' | 'shared' | 'carried' | 'refused'>
}

/** A folder for each app that a release is meant for: the files as they go there, what to press, and what arrives. */
export async function addAppFolders(
  deps: Deps,
  release: Pick<Release, 'workspaceId' | 'manifest' | 'brushes' | 'destinations'>,
  { signal, step, add }: Adding,
): Promise<AddedApp[]> {
  const { workspaceId, manifest } = release
  const source = brushesOf(release)
  const brushIds = manifest.brushes.map(({ id }) => id)
  const added: AddedApp[] = []
  for (const { id, description, choices, folder } of appFolders(release)) {
    const answers = new Map(choices)
    /** What is written and not in the archive yet: that of a few brushes. */
    const waiting = new Map<string, Uint8Array>()
    const to = {
      ...{ workspaceId, library: manifest.title, destinationId: id, destination: description, source },
      choicesOf: async () => (brushId: string) => answers.get(brushId) ?? {},
      async keep({ path, bytes }: FitFile) {
        waiting.set(path, bytes)
        return { path, blobSha: nodeHashBytes(bytes), sizeBytes: bytes.length }
      },
    }
    let through = 0
    const written = await writeBrushesTo(deps, to, brushIds, {
      avoid: [],
      signal,
      async onPart({ files }, done) {
        for (const { path } of files) {
          const bytes = waiting.get(path)
          if (bytes) await add({ path: `${folder}/${path}`, bytes, packing: 'store' })
        }
        waiting.clear()
        for (; through < done; through++) step()
      },
    })
    const carryOver = describeCarryOver(description, written)
    const pages = carryOverPages(
      manifest.title,
      carryOver,
      written.files.map(({ path }) => path),
    )
    for (const { path, bytes } of pages) await add({ path: `${folder}/${path}`, bytes, packing: 'deflate' })
    added.push({ id, folder, carryOver, written })
  }
  return added
}
