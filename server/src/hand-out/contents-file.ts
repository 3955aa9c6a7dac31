import { Contents, type LaidFile, OPEN_FILES, type PlacedFile } from '@satchel/core/pack/contents'
import type { PackManifest } from '@satchel/core/pack/manifest'
import { listOpenFiles } from '@satchel/core/pack/write'
import { LRUCache } from 'lru-cache'
import * as v from 'valibot'
import type { Release } from '../db/releases.ts'
import type { Deps } from '../deps.ts'
import type { AddedApp } from './app-folders.ts'
import { AtOnce } from './at-once.ts'

/** What lies in a download, told from what was written into it. */
export function describeContents(
  manifest: PackManifest,
  {
    laid,
    inner,
    satchelPath,
    apps,
  }: { laid: readonly LaidFile[]; inner: readonly LaidFile[]; satchelPath: string; apps: readonly AddedApp[] },
): Contents {
  const placeOf = new Map(manifest.brushes.map(({ id }, place) => [id, place]))
  const places = (ids: readonly string[]) => ids.flatMap((id) => placeOf.get(id) ?? [])
  const owners = new Map<string, Pick<PlacedFile, 'of' | 'brushes'>>()
  for (const { brush, base } of listOpenFiles(manifest))
    for (const extension of ['png', 'gbr', 'gih'])
      owners.set(`${base}.${extension}`, { of: OPEN_FILES, brushes: places([brush.id]) })
  for (const [of, { folder, written }] of apps.entries()) {
    const users = new Map<string, Set<string>>()
    for (const { path, brushId } of [...written.files, ...written.shared])
      users.set(path, (users.get(path) ?? new Set()).add(brushId))
    for (const [path, ids] of users) owners.set(`${folder}/${path}`, { of, brushes: places([...ids]) })
  }
  const ownerOf = (path: string): Pick<PlacedFile, 'of' | 'brushes'> => {
    const of = apps.findIndex(({ folder }) => path.startsWith(`${folder}/`))
    return owners.get(path) ?? (of < 0 ? { brushes: [] } : { of, brushes: [] })
  }
  return {
    version: 1,
    satchelPath,
    inner: [...inner],
    files: laid.map((entry) => ({ ...entry, ...ownerOf(entry.path) })),
    apps: apps.map(({ id, folder, carryOver: { app, appVersion, afterCopying, brushes }, written }) => ({
      ...{ id, name: app, appVersion, folder, afterCopying: [...afterCopying] },
      arrives: written.carried.flatMap(({ brushId }, i) => {
        const told = brushes[i]
        const brush = placeOf.get(brushId)
        if (!told || brush === undefined) return []
        const { likeness, kept, approximated, left } = told
        return [{ brush, likeness, kept, approximated, left }]
      }),
      refused: written.refused.flatMap(({ brushId, why }) => places([brushId]).map((brush) => ({ brush, why }))),
    })),
  }
}

/** Those that were asked for last are kept: parts of one release are fetched by a whole class at once. */
const KEPT = 8
const known = new LRUCache<string, Contents>({ max: KEPT })
const reading = new AtOnce<Contents>()

/** What lies in a release's download; nothing where it was built before that was noted. */
export async function readContents(
  { blobs }: Pick<Deps, 'blobs'>,
  { workspaceId, contentsSha }: Pick<Release, 'workspaceId' | 'contentsSha'>,
): Promise<Contents | undefined> {
  if (contentsSha === null) return undefined
  const there = known.get(contentsSha)
  if (there) return there
  return reading.make(contentsSha, async () => {
    const bytes = await blobs.read(workspaceId, contentsSha)
    const contents = v.parse(Contents, JSON.parse(Buffer.from(bytes).toString('utf8')))
    known.set(contentsSha, contents)
    return contents
  })
}
