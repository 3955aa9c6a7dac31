/** A file by its place and what it holds; paths have slashes and begin at the app's folder. */
export type PlacedFile = { path: string; sha256: string }

/** What an install has put at a path. */
export type Claim = {
  install: string
  sha256: string
  /** Of one that is being written: what it had put there before, and may lie there still. */
  was?: readonly string[] | undefined
}
/**
 * What is remembered of one path of a folder for as long as an install holds it. Whatever was done in whatever order, it
 * follows from this what has to lie there once any of them goes.
 */
export type Place = {
  /** What the person had there that was covered, the oldest first. */
  theirs: readonly string[]
  /** Who has put something there, the lowest first; what the last one put lies on top. */
  claims: readonly Claim[]
  /** Where some of theirs is being given back, since its own path is taken: writing may have been begun there. */
  beside?: readonly PlacedFile[] | undefined
}
export type Places = ReadonlyMap<string, Place>

/** The SHA-256 of no bytes: a file that was begun, and broken off before anything was in it. */
export const EMPTY_SHA = 'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855'

/** A file that is written: with what was kept of it, or else with what an install brings there. */
export type WriteStep = { path: string; sha256: string; install: string | undefined; over: string | undefined }
export type RemoveStep = { path: string; over: string }

/** What has to be done to a folder, in this order; a stop anywhere loses nothing, and the same can be planned again. */
export type Plan = {
  /** Bytes that will be covered, and may have to lie there again: they are kept first. */
  keep: PlacedFile[]
  /** What is remembered before anything is written; undefined of a place that is forgotten. */
  before: Map<string, Place>
  write: WriteStep[]
  remove: RemoveStep[]
  /** What is remembered once all is written. */
  after: Map<string, Place | undefined>
  said: Said
}
export type Said = {
  /** Paths at which somebody has changed what the install had put there: their file stays. */
  stayed: string[]
  /** What the person had at a path that another file of theirs lies at by now: given back under a name beside it. */
  beside: { path: string; to: string }[]
  /** How many of its files the install has written, and at how many paths it holds nothing any more. */
  written: number
  gone: number
}

export type Folder = {
  /** What lies at the paths that matter, by its hash; see `pathsToRead`. */
  there: ReadonlyMap<string, string>
  /** Everything that lies in it, where that is more. */
  names?: Iterable<string>
  places: Places
}

/** The paths of a folder whose hashes a plan needs: those of the files, and of all that is remembered. */
export const pathsToRead = (places: Places, files: readonly { path: string }[]): Set<string> =>
  new Set([
    ...files.map(({ path }) => path),
    ...[...places].flatMap(([path, { beside = [] }]) => [path, ...beside.map((file) => file.path)]),
  ])

/** What should lie at a place, whoever put it there. */
const topOf = ({ claims, theirs }: Place): string | undefined => claims.at(-1)?.sha256 ?? theirs.at(-1)
const isOf = ({ sha256, was }: Claim, sha: string) => sha === sha256 || was?.includes(sha) === true
const isOurs = (claims: readonly Claim[], sha: string) => claims.some((claim) => isOf(claim, sha))

/**
 * Plans what brings a folder to hold just these files of an install: puts in, brings up to date, repairs, and, with none,
 * takes out. What the person has there is kept before it is covered, and given back once nobody covers it any more.
 * @param options.repairs Whether its files are written again where something else lies by now.
 */
export function planFiles(
  folder: Folder,
  install: string,
  files: readonly PlacedFile[],
  { repairs = false } = {},
): Plan {
  const plan: Plan = {
    keep: [],
    before: new Map(),
    write: [],
    remove: [],
    after: new Map(),
    said: { stayed: [], beside: [], written: 0, gone: 0 },
  }
  const wanted = new Map(files.map(({ path, sha256 }) => [path, sha256]))
  for (const [path, sha256] of wanted) planHold(plan, folder, { path, install, sha256, repairs })
  const taken = takenNames(folder, wanted.keys())
  for (const [path, place] of folder.places)
    if (!wanted.has(path) && place.claims.some((claim) => claim.install === install))
      planRelease(plan, folder, { path, place, install, taken })
  return plan
}

const NO_PLACE: Place = { theirs: [], claims: [] }

/**
 * A place without what the person has taken away themselves: where an install's bytes were theirs, too, and something else
 * lies there by now, or nothing, it was their own file that they have changed.
 */
function withoutOwnChange(place: Place, now: string | undefined): Place {
  const top = place.claims.at(-1)
  if (!top || top.was || !place.theirs.includes(top.sha256)) return place
  if (now !== undefined && isOurs(place.claims, now)) return place
  return { ...place, theirs: place.theirs.filter((sha) => sha !== top.sha256) }
}

type Holding = { path: string; install: string; sha256: string; repairs: boolean }

/** A file that the install is to have at a path. */
function planHold(plan: Plan, { there, places }: Folder, { path, install, sha256, repairs }: Holding): void {
  const now = there.get(path)
  const place = withoutOwnChange(places.get(path) ?? NO_PLACE, now)
  const { claims } = place
  const own = claims.find((claim) => claim.install === install)
  const isSettled = own !== undefined && own.sha256 === sha256 && own.was === undefined
  if (isSettled && (!repairs || now === sha256)) return
  const others = claims.filter((claim) => claim !== own)
  // one that is there already keeps its turn, unless it is repaired: then it is meant to be seen
  const at = own === undefined || repairs ? others.length : claims.indexOf(own)
  const was = [...new Set(own ? [...(own.was ?? []), own.sha256] : [])].filter((sha) => sha !== sha256)
  const held = (claim: Claim) => [...others.slice(0, at), claim, ...others.slice(at)]
  const claimed = held({ install, sha256 })
  const isPersons = now !== undefined && !isOurs(claims, now) && (claims.length === 0 || now !== EMPTY_SHA)
  // below another one's file nothing is written, unless what lies there is what this one had put there
  const isSeen = at === others.length || (now !== undefined && own !== undefined && isOf(own, now))
  const theirs = isPersons && isSeen ? [...place.theirs.filter((sha) => sha !== now), now] : place.theirs
  const after: Place = { ...place, theirs, claims: claimed }
  const target = topOf(after)
  const writes = isSeen && now !== target
  plan.after.set(path, after)
  plan.before.set(path, writes ? { ...after, claims: held({ install, sha256, was }) } : after)
  if (!writes || target === undefined) return
  plan.said.written++
  planWrite(plan, after, { path, target, now })
}

/** A path that the install is to have nothing at any more. */
function planRelease(
  plan: Plan,
  { there }: Folder,
  { path, install, taken, ...released }: { path: string; place: Place; install: string; taken: Set<string> },
): void {
  const now = there.get(path)
  const place = withoutOwnChange(released.place, now)
  const own = place.claims.filter((claim) => claim.install === install)
  const claims = place.claims.filter((claim) => claim.install !== install)
  const isTop = place.claims.at(-1)?.install === install
  // what lies beside its place by now was given back, though nobody came to say so
  const begun = place.beside ?? []
  const given = new Set(begun.filter(({ path: to, sha256 }) => there.get(to) === sha256).map(({ sha256 }) => sha256))
  const theirs = place.theirs.filter((sha) => !given.has(sha))
  const target = topOf({ theirs, claims })
  // nothing there, or an empty file in place of ours, is no file of the person's
  const isEmpty = now === undefined || (now === EMPTY_SHA && !theirs.includes(now))
  const isLeft = isEmpty ? isTop || claims.length === 0 : isOurs(own, now) && !isOurs(claims, now)
  plan.said.gone++
  const isTheirs = !isEmpty && !isOurs(place.claims, now)
  // what was never said to be written may never have covered theirs
  const isDone = own.every(({ was }) => was === undefined)
  if (isTheirs && isTop && isDone) plan.said.stayed.push(path)
  if (isLeft && now !== target) {
    if (target !== undefined) planWrite(plan, { theirs, claims }, { path, target, now })
    else if (now !== undefined) plan.remove.push({ path, over: now })
  }
  if (claims.length > 0) {
    plan.after.set(path, { ...place, claims })
    return
  }
  // nobody covers it any more: what is not given back in its own place lies beside it
  const lies = isLeft ? target : now
  for (const file of begun) taken.add(file.path.toLowerCase())
  const isFree = (to: string) => [undefined, EMPTY_SHA].includes(there.get(to))
  const beside = theirs
    .filter((sha256) => sha256 !== lies)
    .map((sha256): PlacedFile => {
      const again = begun.find((file) => file.sha256 === sha256 && isFree(file.path))
      if (again) return again
      const to = nameBeside(path, taken)
      taken.add(to.toLowerCase())
      return { path: to, sha256 }
    })
  for (const { path: to, sha256 } of beside) {
    plan.said.beside.push({ path, to })
    plan.write.push({ path: to, sha256, install: undefined, over: there.get(to) })
  }
  for (const { path: to } of begun)
    if (there.get(to) === EMPTY_SHA && !beside.some((file) => file.path === to))
      plan.remove.push({ path: to, over: EMPTY_SHA })
  if (beside.length > 0) plan.before.set(path, { ...place, beside })
  plan.after.set(path, undefined)
}

/** Writes what should lie at a place; what that covers, and may have to lie there again, is kept first. */
function planWrite(
  plan: Plan,
  { theirs, claims }: Place,
  { path, target, now }: { path: string; target: string; now: string | undefined },
): void {
  const isWantedAgain = (sha: string) => theirs.includes(sha) || claims.some(({ sha256 }) => sha256 === sha)
  if (now !== undefined && isWantedAgain(now)) plan.keep.push({ path, sha256: now })
  const bringer = claims.findLast(({ sha256 }) => sha256 === target)
  plan.write.push({ path, sha256: target, over: now, install: bringer?.install })
}

function splitName(path: string): { stem: string; ending: string } {
  const slash = path.lastIndexOf('/')
  const dot = path.lastIndexOf('.')
  return dot > slash + 1 ? { stem: path.slice(0, dot), ending: path.slice(dot) } : { stem: path, ending: '' }
}

const takenNames = ({ there, names = [], places }: Folder, more: Iterable<string>) =>
  new Set([...there.keys(), ...names, ...places.keys(), ...more].map((name) => name.toLowerCase()))

/** The first name beside a path that is free. */
function nameBeside(path: string, taken: ReadonlySet<string>): string {
  const { stem, ending } = splitName(path)
  for (let n = 2; ; n++) {
    const name = `${stem} ${n}${ending}`
    if (!taken.has(name.toLowerCase())) return name
  }
}

/** What carries a plan out: a transaction over rows, or a page that writes to a disk. */
export type Hand = {
  keep(file: PlacedFile): Promise<void> | void
  note(places: ReadonlyMap<string, Place | undefined>): Promise<void> | void
  write(step: WriteStep): Promise<void> | void
  remove(step: RemoveStep): Promise<void> | void
}

/** Carries a plan out, in the one order in which a stop anywhere loses nothing. */
export async function carryOut({ keep, before, write, remove, after }: Plan, hand: Hand): Promise<void> {
  for (const file of keep) await hand.keep(file)
  if (before.size > 0) await hand.note(before)
  for (const step of write) await hand.write(step)
  for (const step of remove) await hand.remove(step)
  await hand.note(after)
}

/** Whose bytes may have to lie at these places again: all else that was kept is not needed any more. */
export const keptFor = (places: Places): Set<string> =>
  new Set([...places.values()].flatMap(({ theirs, claims }) => [...theirs, ...claims.map(({ sha256 }) => sha256)]))
