import { toNameKey } from '../formats/text.ts'
import { toFileName } from '../pack/file-name.ts'
import type { Destination } from './destination.ts'

type Rules = Destination['names']

/** Letters of other scripts, which cannot be written without marks, become this. */
const OTHER = '-'
const PLAIN = /[^A-Za-z0-9 -]+/g
const MARKS = /\p{M}+/gu

/** A name as the rules of a destination let it be; one that loses everything is "Brush". */
export function fitName(name: string, { letters, letterCase, mostChars }: Rules): string {
  const plain = letters === 'any' ? name : name.normalize('NFKD').replace(MARKS, '').replace(PLAIN, OTHER)
  const base = toFileName(plain)
  const cased = letterCase === 'lower' ? base.toLowerCase() : base
  const short = [...cased]
    .slice(0, mostChars)
    .join('')
    .replace(/[. -]+$/, '')
  return short === '' ? fitName('Brush', { letters, letterCase, mostChars, unique: 'folder' }) : short
}

/** Names that are given once in each folder, or once at all; the second of a kind becomes "Name 2", within the limit. */
export class FitNames {
  readonly #taken = new Set<string>()
  readonly #rules: Rules

  constructor(rules: Rules) {
    this.#rules = rules
  }

  /** @param isTaken Whether a name is taken by something that was there before. */
  take(folder: string, name: string, isTaken: (tried: string) => boolean = () => false): string {
    const { mostChars, unique, letterCase } = this.#rules
    const where = unique === 'folder' ? folder : ''
    for (let n = 1; ; n++) {
      const end = n === 1 ? '' : ` ${n}`
      const tried = fitName(`${[...name].slice(0, mostChars - end.length).join('')}${end}`, this.#rules)
      const key = `${where}/${toNameKey(letterCase === 'lower' ? tried.toLowerCase() : tried)}`
      if (this.#taken.has(key) || isTaken(tried)) continue
      this.#taken.add(key)
      return tried
    }
  }
}
