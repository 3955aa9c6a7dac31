import { queryOptions } from '@tanstack/react-query'
import { api, RequestError, read, send } from '../api/client.ts'

export const installsQuery = queryOptions({
  queryKey: ['fit', 'installs'],
  queryFn: () => read(api.installs.$get()),
})
export type InstallEntry = Awaited<ReturnType<NonNullable<(typeof installsQuery)['queryFn']>>>['installs'][number]

export const loadInstall = (id: string) => read(api.installs[':id'].$get({ param: { id } }))
export const installQuery = (id: string) =>
  queryOptions({ queryKey: ['fit', 'install', id], queryFn: () => loadInstall(id) })

type StandIn = NonNullable<InstallEntry['standIn']>
/** Brushes that are looked for first, so that there is something to see: two screens of them. */
const FIRST_FOUND = 8

const lookInto = (json: { standIn: StandIn; most?: number }) => read(api.installs.folder.look.$post({ json }))
/** What lies in the folder of a simulated app, and what the app finds: all of it where that is known, else the first. */
export const folderQuery = (standIn: StandIn) =>
  queryOptions({
    queryKey: ['fit', 'folder', standIn],
    queryFn: async () => {
      const { files, found } = await read(api.installs.folder.$get({ query: { standIn } }))
      return { files, ...(found ?? (await lookInto({ standIn, most: FIRST_FOUND }))) }
    },
  })
/** All that the app finds. @param isWanted Whether it is not known already. */
export const wholeFolderQuery = (standIn: StandIn, isWanted: boolean) =>
  queryOptions({
    queryKey: ['fit', 'whole-folder', standIn],
    queryFn: () => lookInto({ standIn }),
    enabled: isWanted,
  })

export const foundStroke = (
  standIn: string,
  { path, files }: { path: string; files: readonly string[] },
  version: number,
) =>
  `/api/installs/folder/stroke.png?${new URLSearchParams({ standIn, path, files: JSON.stringify(files), v: String(version) })}`

/** A brush as the app has found it, to paint with. */
export const foundBrushQuery = (
  standIn: NonNullable<InstallEntry['standIn']>,
  { path, files }: { path: string; files: readonly string[] },
  version: number,
) =>
  queryOptions({
    queryKey: ['fit', 'found-brush', standIn, path, version],
    queryFn: () => read(api.installs.folder.brush.$get({ query: { standIn, path, files: JSON.stringify(files) } })),
  })

/** Which brushes: those of the library by their ids, all of a release, or what an edition gives just now. */
export type InstallSource = { brushIds: string[] } | { releaseId: string } | { editionId: string }
export const startInstall = (json: { name: string; destinationId: string } & InstallSource) =>
  read(api.installs.$post({ json }))

export type ConflictAnswer = 'both' | 'replace' | 'skip'

/** A file of an install, for a folder that the page writes to. */
export async function loadInstallFile(id: string, path: string): Promise<ArrayBuffer | undefined> {
  try {
    const file = await send(`/api/installs/${id}/file?${new URLSearchParams({ path })}`, { method: 'GET' })
    return await file.arrayBuffer()
  } catch (error) {
    if (error instanceof RequestError && error.status === 404) return undefined
    throw error
  }
}
type FoundThere = { there: { path: string; sha256: string }[]; names: string[] }
export const settleElsewhere = (id: string, json: FoundThere & { answer: ConflictAnswer }) =>
  read(api.installs[':id'].settle.$post({ param: { id }, json: json as never }))
export const renewElsewhere = (id: string, names: string[]) =>
  read(api.installs[':id'].renew.$post({ param: { id }, json: { names } }))
export const noteElsewhere = (id: string, folder: string | null) =>
  read(api.installs[':id'].elsewhere.$post({ param: { id }, json: { folder } }))

export const putIn = (id: string, answer: ConflictAnswer) =>
  read(api.installs[':id'].put.$post({ param: { id }, json: { answer } }))
export const verifyInstall = (id: string) => read(api.installs[':id'].verify.$post({ param: { id } }))
export const repairInstall = (id: string) => read(api.installs[':id'].repair.$post({ param: { id } }))
export const upgradeInstall = (id: string) => read(api.installs[':id'].upgrade.$post({ param: { id } }))
export const takeOut = (id: string) => read(api.installs[':id']['take-out'].$post({ param: { id } }))
/** Its files in their folders, with the page that says what arrives. */
export const filesAddress = (id: string) => `/api/installs/${id}/files.zip`
export const writeInstall = (id: string) => read(api.installs[':id'].write.$post({ param: { id } }))
export const dropInstall = (id: string) => read(api.installs[':id'].$delete({ param: { id } }))

/** Every brush of a set, or of the whole library. */
export const loadBrushIds = async (setId: string | undefined): Promise<string[]> =>
  (await read(api.brushes.ids.$get({ query: setId === undefined ? {} : { setId } }))).ids

/** The releases of a pack that can be had, the newest first. */
export const releasesQuery = (packId: string | undefined) =>
  queryOptions({
    queryKey: ['pack', packId, 'ready-releases'],
    queryFn: async () => {
      const { releases } = await read(api.packs[':id'].$get({ param: { id: packId ?? '' } }))
      return releases.filter(({ state, recalledAt }) => state === 'ready' && recalledAt === null)
    },
    enabled: packId !== undefined,
  })

/** Every brush of a pack as it is by now, once, in its order. */
export async function loadPackIds(packId: string): Promise<string[]> {
  const { brushes } = await read(api.packs[':id'].brushes.$get({ param: { id: packId } }))
  return brushes.map(({ id }) => id)
}
