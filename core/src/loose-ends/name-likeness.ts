import { distance } from 'fastest-levenshtein'
import { withoutExtension } from '../formats/text.ts'

/** So many of the nearest by their letters are compared closely. */
const CLOSELY = 24
/** Letters that stand together; two names share some, or have nothing to do with one another. */
const GRAM = 2

/** A file's name as it is compared: without its extension, in small letters, marks and spaces all one. */
export const stemOf = (path: string): string =>
  withoutExtension(path.slice(path.lastIndexOf('/') + 1))
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

/** How alike two names are, 0 to 100: the edit distance over the longer one's length (Levenshtein 1966). */
export function nameLikeness(a: string, b: string): number {
  const longer = Math.max(a.length, b.length)
  return longer === 0 ? 0 : Math.round(100 * (1 - distance(a, b) / longer))
}

/** Names of many files, to find the nearest of without comparing each with each. */
export class NameIndex {
  readonly #paths: readonly string[]
  readonly #names: string[]
  readonly #byGram = new Map<string, number[]>()

  constructor(paths: readonly string[]) {
    this.#paths = paths
    this.#names = paths.map(stemOf)
    for (const [i, name] of this.#names.entries())
      for (const gram of gramsOf(name)) {
        const list = this.#byGram.get(gram)
        if (list) list.push(i)
        else this.#byGram.set(gram, [i])
      }
  }

  /** The paths whose names are nearest, with their likeness, the best first. */
  nearest(name: string, most: number): { path: string; score: number }[] {
    const bare = stemOf(name)
    const shared = new Map<number, number>()
    for (const gram of gramsOf(bare))
      for (const i of this.#byGram.get(gram) ?? []) shared.set(i, (shared.get(i) ?? 0) + 1)
    // a share of both names' letters, so that long names do not win by their length
    const rank = ([i, count]: [number, number]) => count / (this.#names[i].length + bare.length)
    return [...shared]
      .sort((a, b) => rank(b) - rank(a) || a[0] - b[0])
      .slice(0, CLOSELY)
      .map(([i]) => ({ path: this.#paths[i], score: nameLikeness(bare, this.#names[i]) }))
      .sort((a, b) => b.score - a.score)
      .slice(0, most)
  }
}

function gramsOf(name: string): Set<string> {
  const padded = ` ${name} `
  const grams = new Set<string>()
  for (let i = 0; i + GRAM <= padded.length; i++) grams.add(padded.slice(i, i + GRAM))
  return grams
}
