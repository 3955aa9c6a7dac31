/** Where a set's brushes came from: a path of folders with `/` between, and what the set is called. */
export type SetPlace = { folder: string; setName: string }

/** The paths of a folder and of all folders above it, the nearest first. */
const upwards = (folder: string): string[] => {
  const parts = folder.split('/').filter(Boolean)
  return parts.map((_, i) => parts.slice(0, parts.length - i).join('/'))
}

/**
 * Which set each set is put inside, as their folders come: the nearest folder that holds more than one of them, its own counted.
 * Sets are two deep: what lies above that is left out. Where two folders are called the same, the one above is named, too.
 * @param places Of each brush its folder and its set; a set stands where its first brush does.
 * @param nameOf What a folder is called as a set.
 * @returns The names of outer sets by the lower-case names of sets; those that stand alone are not in it.
 */
export function outerSets(places: readonly SetPlace[], nameOf: (folder: string) => string): Map<string, string> {
  const at = new Map<string, string>()
  for (const { folder, setName } of places) {
    const key = setName.toLowerCase()
    if (folder !== '' && setName !== '' && !at.has(key)) at.set(key, folder)
  }
  const held = new Map<string, number>()
  for (const folder of at.values()) for (const path of upwards(folder)) held.set(path, (held.get(path) ?? 0) + 1)
  const outer = new Map<string, string>()
  for (const [key, folder] of at) {
    const path = upwards(folder).find((each) => (held.get(each) ?? 0) > 1)
    if (path !== undefined) outer.set(key, path)
  }
  // the others of a folder may all lie deeper
  for (const [key, path] of [...outer])
    if ([...outer.values()].filter((each) => each === path).length === 1) outer.delete(key)
  const paths = [...new Set(outer.values())]
  const last = (path: string) => nameOf(path.split('/').at(-1) ?? '')
  const isAlone = (path: string) =>
    paths.filter((each) => last(each).toLowerCase() === last(path).toLowerCase()).length === 1
  const named = new Map(
    paths.map((path) => [path, isAlone(path) ? last(path) : path.split('/').slice(-2).map(nameOf).join(', ')]),
  )
  return new Map([...outer].map(([key, path]) => [key, named.get(path) ?? last(path)]))
}
