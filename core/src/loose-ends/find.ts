import { groupBy } from '../group-by.ts'
import type { FileSha } from '../hashes.ts'
import { NameIndex } from './name-likeness.ts'
import { type PathOrigin, type Reference, resolveTarget } from './references.ts'

/** A file that may be what is meant. */
export type LibraryFile = { path: string; sha256: FileSha }

/** How a target was found, the surest first; one row a way. */
export const PROPOSED_BY = {
  content: { word: 'the same file', rank: 0 },
  look: { word: 'looks the same', rank: 1 },
  name: { word: 'a like name', rank: 2 },
} as const
export type ProposedBy = keyof typeof PROPOSED_BY

export type Proposal = {
  path: string
  by: ProposedBy
  /** 0 to 100: how much speaks for it. */
  score: number
  /** The file is not there: it is written there again from what was kept of it. */
  putBack?: boolean | undefined
}

/** A reference that leads nowhere, where it was looked for, and what may be meant, the likeliest first. */
export type LooseEnd = Reference & {
  /** Undefined where the path leads out of the folder. */
  lookedAt: string | undefined
  proposals: Proposal[]
  /** Whether the first proposal needs nobody to look at it. */
  isSure: boolean
}

/** Names a loose end within its folder. */
export const keyOfEnd = ({ file, kind }: Pick<Reference, 'file' | 'kind'>): string => `${kind} ${file}`

const PROPOSALS_MAX = 5
/** Names that are less alike are not proposed. */
const NAME_FROM = 55
const PICTURE = /\.(png|apng|gbr|gih|svg|ora|jpe?g|webp|tiff?)$/i

export type Searching = {
  /** Where a reference leads: from the folder that the app looks into, from beside its settings, or as is said. */
  origin: PathOrigin | ((reference: Reference) => string | undefined)
  /** What was once at a path, where that is known: of settings that do not say so themselves. */
  knownSha?: ((reference: Reference, path: string) => FileSha | undefined) | undefined
  /** Whether the bytes of a file that is gone are kept elsewhere, so that it can be put back. */
  isKept?: ((sha256: FileSha) => boolean) | undefined
  /** Whether nothing is to be proposed: to count them. */
  isBare?: boolean | undefined
}

/**
 * Finds the references that lead nowhere, and for each what may be meant: files of the same content, then files of a
 * like name. What looks the same is added by `addLooks`, where there are pictures to look at.
 * @param files All files of the library.
 */
export function findLooseEnds(
  references: readonly Reference[],
  files: readonly LibraryFile[],
  { origin, knownSha, isKept, isBare = false }: Searching,
): LooseEnd[] {
  const paths = new Set(files.map(({ path }) => path))
  const lead = typeof origin === 'function' ? origin : (reference: Reference) => resolveTarget(reference, origin)
  const loose = references
    .map((reference) => ({ reference, lookedAt: lead(reference) }))
    .filter(({ lookedAt }) => lookedAt === undefined || !paths.has(lookedAt))
  if (isBare) return loose.map(({ reference, lookedAt }) => ({ ...reference, lookedAt, proposals: [], isSure: false }))
  if (loose.length === 0) return []
  const bySha = groupBy(files, ({ sha256 }) => sha256)
  const pictures = files.filter(({ path }) => PICTURE.test(path))
  const names = new NameIndex(pictures.map(({ path }) => path))
  return loose.map(({ reference, lookedAt }) => {
    const wanted = lookedAt ?? reference.target
    const sha256 = reference.sha256 ?? knownSha?.(reference, wanted)
    const same = sha256 ? (bySha.get(sha256) ?? []).map(({ path }) => path) : []
    const content = same
      .sort((a, b) => sharedTail(b, wanted) - sharedTail(a, wanted) || (a < b ? -1 : 1))
      .map((path): Proposal => ({ path, by: 'content', score: 100 }))
    const back: Proposal[] =
      content.length === 0 && sha256 && lookedAt && isKept?.(sha256)
        ? [{ path: lookedAt, by: 'content', score: 100, putBack: true }]
        : []
    const alike = names
      .nearest(wanted, 2 * PROPOSALS_MAX)
      .filter(({ path, score }) => score >= NAME_FROM && !same.includes(path))
      .sort((a, b) => b.score - a.score || sharedTail(b.path, wanted) - sharedTail(a.path, wanted))
      .map(({ path, score }): Proposal => ({ path, by: 'name', score }))
    const proposals = [...content, ...back, ...alike].slice(0, PROPOSALS_MAX)
    return { ...reference, sha256, lookedAt, proposals, isSure: isSure(proposals, wanted, sha256 !== undefined) }
  })
}

/**
 * Puts what looks the same before what is only called alike.
 * @param look What looks like the file that an end once led to: 0 to 100, and whether no difference would be seen.
 */
export function addLooks(
  ends: readonly LooseEnd[],
  look: (end: LooseEnd) => readonly { path: string; score: number; isSame: boolean }[],
): LooseEnd[] {
  return ends.map((end) => {
    if (end.proposals[0]?.by === 'content') return end
    const seen = look(end)
    if (seen.length === 0) return end
    const found = [...seen]
      .sort((a, b) => b.score - a.score)
      .map(({ path, score }): Proposal => ({ path, by: 'look', score }))
    const others = end.proposals.filter(({ path }) => !seen.some((each) => each.path === path))
    const same = seen.filter(({ isSame }) => isSame)
    return {
      ...end,
      proposals: [...found, ...others].slice(0, PROPOSALS_MAX),
      isSure: same.length === 1 && found[0]?.path === same[0]?.path,
    }
  })
}

/**
 * Sure is what holds the very same bytes; and where nobody knows what the bytes were, the one file that has the same
 * name in a folder of the same name.
 */
function isSure([first, ...others]: readonly Proposal[], wanted: string, isKnown: boolean): boolean {
  if (!first) return false
  if (first.by === 'content') return true
  const least = Math.min(2, wanted.split('/').length)
  const agrees = ({ path }: Proposal) => sharedTail(path, wanted) >= least
  return !isKnown && agrees(first) && !others.some(agrees)
}

/** How many parts of two paths are the same, from their ends. */
export function sharedTail(a: string, b: string): number {
  const [own, other] = [a.split('/').reverse(), b.split('/').reverse()]
  let shared = 0
  while (shared < own.length && shared < other.length && own[shared] === other[shared]) shared++
  return shared
}
