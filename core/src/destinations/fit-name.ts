import { transliterate } from 'transliteration'
import { LimitError } from '../errors.ts'
import { toNameKey, trimSigns } from '../formats/text.ts'
import { toFileName } from '../pack/file-name.ts'
import type { Destination } from './destination.ts'

type Rules = Destination['names']

/** What has no letter that stands for it becomes this. */
const OTHER = '-'
const PLAIN = /[^A-Za-z0-9 -]+/g
const MARKS = /\p{M}+/gu
/** What a brush is called whose name loses everything. */
const NAMELESS = 'Brush'

/** A name as the rules of a destination let it be; one that loses everything is "Brush". */
export function fitName(name: string, rules: Rules): string {
  return cut(lettersOf(name, rules), rules.mostChars) || cut(lettersOf(NAMELESS, rules), rules.mostChars)
}

/** A name in the letters and the case that are taken, however long. */
function lettersOf(name: string, { letters, letterCase }: Rules): string {
  const plain = letters === 'any' ? name : toPlainLetters(name)
  if (plain.trim() === '') return ''
  const base = toFileName(plain)
  return letterCase === 'lower' ? base.toLowerCase() : base
}

/** A name in plain Latin letters: those of other scripts as they are usually written in it, accents gone. */
const toPlainLetters = (name: string): string =>
  transliterate(name.normalize('NFC')).normalize('NFKD').replace(MARKS, '').replace(PLAIN, OTHER)

/** The first characters of a name, with nothing at its end that some system would drop. */
const cut = (name: string, mostChars: number): string =>
  trimSigns([...name].slice(0, mostChars).join(''), '. -', 'last')

/** Brushes that may have one name in a folder, and names that are tried for one of them. */
const TRIES_MAX = 100_000

/** Names that are given once in each folder, or once at all; the second of a kind becomes "Name 2", within the limit. */
export class FitNames {
  readonly #taken = new Set<string>()
  /** Of names that were wanted before: the number that comes next. */
  readonly #next = new Map<string, number>()
  readonly #rules: Rules

  constructor(rules: Rules) {
    this.#rules = rules
  }

  /**
   * @param isTaken Whether a name is taken by something that was there before.
   * @throws {LimitError} If there are more of one name than can be told apart.
   */
  take(folder: string, name: string, isTaken: (tried: string) => boolean = () => false): string {
    const where = this.#rules.unique === 'folder' ? folder : ''
    const base = fitName(name, this.#rules)
    const wanted = `${where}/${toNameKey(base)}`
    for (let n = this.#next.get(wanted) ?? 1; n <= TRIES_MAX; n++) {
      const tried = numbered(base, n, this.#rules.mostChars)
      if (tried === undefined) break
      const key = `${where}/${toNameKey(tried)}`
      if (this.#taken.has(key) || isTaken(tried)) continue
      this.#taken.add(key)
      this.#next.set(wanted, n + 1)
      return tried
    }
    throw new LimitError(`the number of brushes called "${base}" in one folder`, this.#next.get(wanted) ?? 1, TRIES_MAX)
  }
}

/** A name with a number behind it: room is made for that first, so it is never cut off. Undefined where it has no room. */
function numbered(base: string, n: number, mostChars: number): string | undefined {
  if (n === 1) return base
  const digits = String(n)
  if (digits.length > mostChars) return undefined
  const start = cut(base, mostChars - digits.length - 1)
  return start === '' ? digits : `${start} ${digits}`
}
