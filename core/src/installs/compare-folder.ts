import type { PlacedFile, Places } from './places.ts'

/** Whose look at a folder it is, and what is remembered of that folder: so it is known which install has put something there. */
export type Whose = { install: string; places: Places }

/** The install, other than one's own, that has put just these bytes at a path; undefined where it was somebody else. */
function putBy(path: string, sha256: string | undefined, { install, places }: Whose): string | undefined {
  const claims = places.get(path)?.claims ?? []
  return claims.findLast((claim) => claim.install !== install && claim.sha256 === sha256)?.install
}

/** Which of the files to come are there already: the same bytes, or others under the same name, and which install's. */
export type Conflicts = { same: string[]; other: string[]; by: { path: string; install: string }[] }

/** Names that differ only in their case are one on many disks. */
export function findConflicts(files: readonly PlacedFile[], folder: readonly PlacedFile[], whose: Whose): Conflicts {
  const there = new Map(folder.map((file) => [file.path.toLowerCase(), file]))
  const found: Conflicts = { same: [], other: [], by: [] }
  for (const { path, sha256 } of files) {
    const lies = there.get(path.toLowerCase())
    if (!lies) continue
    if (lies.sha256 === sha256) found.same.push(path)
    else {
      found.other.push(path)
      const install = putBy(lies.path, lies.sha256, whose)
      if (install !== undefined) found.by.push({ path, install })
    }
  }
  return found
}

/** How a file of an install stands: changed, by another install or by somebody, or gone. */
export type Drift = { path: string; state: 'changed' | 'gone'; by?: string | undefined }

/** What of an install is not as it was written. */
export function findDrift(files: readonly PlacedFile[], folder: readonly PlacedFile[], whose: Whose): Drift[] {
  const there = new Map(folder.map((file) => [file.path, file.sha256]))
  return files.flatMap(({ path, sha256 }): Drift[] => {
    const now = there.get(path)
    if (now === sha256) return []
    if (now === undefined) return [{ path, state: 'gone' }]
    const by = putBy(path, now, whose)
    return [by === undefined ? { path, state: 'changed' } : { path, state: 'changed', by }]
  })
}
