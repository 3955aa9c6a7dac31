import type { Place, PlacedFile, Places } from './places.ts'

/** What installs hold at a path lies at another one by now, or holds other bytes, or both. */
export type Follow = { path: string; place: Place; to: PlacedFile }

/**
 * What installs put into a folder, where it lies by now: a file that was moved with its folder is followed by its content,
 * and one whose settings were mended is theirs as it is mended.
 * @param folder All that lies there. @param mended Files that were written anew, as they are by now.
 */
export function followFiles(
  places: Places,
  folder: readonly PlacedFile[],
  mended: ReadonlyMap<string, PlacedFile>,
): Follow[] {
  const there = new Map(folder.map((file) => [file.path, file]))
  const free = new Map<string, PlacedFile[]>()
  for (const file of folder) if (!places.has(file.path)) free.set(file.sha256, [...(free.get(file.sha256) ?? []), file])
  return [...places].flatMap(([path, place]): Follow[] => {
    const top = place.claims.at(-1)?.sha256
    const now = there.get(path) ?? nearest(free.get(top ?? '') ?? [], path)
    if (now === undefined || now.sha256 !== top) return []
    const to = { path: now.path, sha256: mended.get(now.path)?.sha256 ?? now.sha256 }
    return to.path === path && to.sha256 === top ? [] : [{ path, place, to }]
  })
}

/** What is remembered once installs hold what lies on top of their places where that is by now, and as it is by now. */
export function followPlaces(follows: readonly Follow[]): Map<string, Place | undefined> {
  const changes = new Map<string, Place | undefined>()
  for (const { path, to } of follows) if (path !== to.path) changes.set(path, undefined)
  for (const { place, to } of follows) {
    const top = place.claims.at(-1)?.sha256
    const claims = place.claims.map((claim) => (claim.sha256 === top ? { ...claim, sha256: to.sha256 } : claim))
    changes.set(to.path, { ...place, claims })
  }
  return changes
}

/** Of several files of the same content the one whose name is the same; each is followed to once. */
function nearest(files: PlacedFile[], path: string): PlacedFile | undefined {
  const name = path.slice(path.lastIndexOf('/'))
  const at = Math.max(
    0,
    files.findIndex((file) => file.path.endsWith(name)),
  )
  return files.splice(at, 1)[0]
}
