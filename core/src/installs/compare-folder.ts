/** A file by its place and what it holds; paths have slashes and begin at the app's folder. */
export type PlacedFile = { path: string; sha256: string }

/** Which of the files to come are there already: the same bytes, or others under the same name. */
export type Conflicts = { same: string[]; other: string[] }

/** Names that differ only in their case are one on many disks. */
export function findConflicts(files: readonly PlacedFile[], folder: readonly PlacedFile[]): Conflicts {
  const there = new Map(folder.map((file) => [file.path.toLowerCase(), file.sha256]))
  const taken = files.filter(({ path }) => there.has(path.toLowerCase()))
  const isSame = ({ path, sha256 }: PlacedFile) => there.get(path.toLowerCase()) === sha256
  return {
    same: taken.filter(isSame).map(({ path }) => path),
    other: taken.filter((file) => !isSame(file)).map(({ path }) => path),
  }
}

/** How a file of an install stands: changed by somebody, or gone. */
export type Drift = { path: string; state: 'changed' | 'gone' }

/** What of an install is not as it was written. */
export function findDrift(files: readonly PlacedFile[], folder: readonly PlacedFile[]): Drift[] {
  const there = new Map(folder.map((file) => [file.path, file.sha256]))
  return files.flatMap(({ path, sha256 }): Drift[] => {
    const now = there.get(path)
    if (now === sha256) return []
    return [{ path, state: now === undefined ? 'gone' : 'changed' }]
  })
}
