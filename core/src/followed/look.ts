/** A file of a followed folder as it was last heard of. */
export type KnownFile = {
  id: string
  path: string
  sha256: string
  /** Whether it was not there when the folder was last looked at. */
  isGone: boolean
}

/** A file as it lies in the folder now; one that is being written just now has no hash yet. */
export type SeenFile = { path: string; sha256: string | null; sizeBytes: number }
export type HashedFile = SeenFile & { sha256: string }

/** What a look at a folder comes to; each known file and each file with a hash stands in exactly one of these. */
export type LookPlan = {
  /** As they were, or being written. */
  same: string[]
  /** The same bytes under another name. */
  moved: { id: string; path: string }[]
  /** Other bytes under the same name. */
  changed: { id: string; file: HashedFile }[]
  fresh: HashedFile[]
  gone: string[]
}

/**
 * Tells of each file of a folder which one it was before. What a file holds tells, where its name does not: names that change
 * places, or move on by one, take nothing from anybody. A file that is copied and then painted on goes on under its own name, and
 * the copy is new.
 * @param known Files that were heard of before; no two of them at one path, but for such that are gone.
 * @param seen All files of the folder, each path once.
 */
export function planLook(known: readonly KnownFile[], seen: readonly SeenFile[]): LookPlan {
  const plan: LookPlan = { same: [], moved: [], changed: [], fresh: [], gone: [] }
  const open = new Set(known)
  const files = new Map<string, HashedFile>()
  const atPath = new Map<string, KnownFile>()
  for (const each of known) {
    const before = atPath.get(each.path)
    // of several that had a path one after the other, the one that is there goes first
    if (!before || before.isGone) atPath.set(each.path, each)
  }
  const writing = new Set<string>()
  for (const file of seen) {
    const there = atPath.get(file.path)
    if (file.sha256 === null) {
      writing.add(file.path)
      if (there) {
        plan.same.push(there.id)
        open.delete(there)
      }
    } else if (there?.sha256 === file.sha256) {
      // a file that was gone and lies there again is the same one
      if (there.isGone) plan.moved.push({ id: there.id, path: file.path })
      else plan.same.push(there.id)
      open.delete(there)
    } else files.set(file.path, file as HashedFile)
  }
  changeInPlace({ plan, open, files, atPath })
  for (const [file, from] of matchContents([...files.values()], open)) {
    plan.moved.push({ id: from.id, path: file.path })
    open.delete(from)
    files.delete(file.path)
  }
  for (const file of files.values()) {
    const there = atPath.get(file.path)
    if (there && open.delete(there)) plan.changed.push({ id: there.id, file })
    else plan.fresh.push(file)
  }
  plan.gone = [...open].map(({ id }) => id)
  return plan
}

type Left = {
  plan: LookPlan
  open: Set<KnownFile>
  files: Map<string, HashedFile>
  atPath: ReadonlyMap<string, KnownFile>
}

/**
 * A file whose bytes were nobody's before was changed where it lies. Each that is found gives its old bytes free: what lies
 * elsewhere with these is a copy then, not the file itself, so it is looked on until none is found any more.
 */
function changeInPlace({ plan, open, files, atPath }: Left): void {
  const holders = new Map<string, number>()
  for (const { sha256 } of open) holders.set(sha256, (holders.get(sha256) ?? 0) + 1)
  const bySha = new Map<string, HashedFile[]>()
  for (const file of files.values()) bySha.set(file.sha256, [...(bySha.get(file.sha256) ?? []), file])
  const next = [...files.values()].filter(({ sha256 }) => !holders.has(sha256))
  for (let at = 0; at < next.length; at++) {
    const file = next[at] as HashedFile
    const there = atPath.get(file.path)
    if (!there || !open.delete(there)) continue
    plan.changed.push({ id: there.id, file })
    files.delete(file.path)
    const left = (holders.get(there.sha256) ?? 1) - 1
    holders.set(there.sha256, left)
    if (left === 0) next.push(...(bySha.get(there.sha256) ?? []).filter(({ path }) => files.has(path)))
  }
}

/** Pairs files with those that had the same bytes, the nearest names first. */
function matchContents(files: readonly HashedFile[], open: ReadonlySet<KnownFile>): [HashedFile, KnownFile][] {
  const had = new Map<string, KnownFile[]>()
  for (const each of open) had.set(each.sha256, [...(had.get(each.sha256) ?? []), each])
  const pairs: [HashedFile, KnownFile][] = []
  const left: HashedFile[] = []
  const take = (file: HashedFile, isIt: (each: KnownFile) => boolean) => {
    const some = had.get(file.sha256) ?? []
    const at = some.findIndex(isIt)
    if (at < 0) return false
    pairs.push([file, ...some.splice(at, 1)] as [HashedFile, KnownFile])
    return true
  }
  for (const file of files) if (!take(file, ({ path }) => lastPart(path) === lastPart(file.path))) left.push(file)
  for (const file of left) take(file, () => true)
  return pairs
}

const lastPart = (path: string) => path.slice(path.lastIndexOf('/') + 1)
