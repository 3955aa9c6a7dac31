import { toNameKey, toOneLine, toUtf8, trimSigns } from '../formats/text.ts'

const FORBIDDEN = /[<>:"/\\|?*]/g // not allowed in file names somewhere; common practice, no source
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i
const BASE_MAX_CHARS = 80
/** File systems take 255 bytes; what is added to a name, a number and an extension, has room too. */
const BASE_MAX_BYTES = 200

/** A name as a file name that every system takes: no reserved characters or words, no dots at its ends. */
export function toFileName(name: string): string {
  let line = toOneLine(name.replace(FORBIDDEN, '-').normalize('NFC'), BASE_MAX_CHARS)
  while (toUtf8(line).length > BASE_MAX_BYTES) line = [...line].slice(0, -1).join('')
  const base = trimSigns(line, '. ')
  if (base === '') return 'Unnamed'
  return RESERVED.test(base) ? `${base}-` : base
}

/** Gives each file name of one folder once, whatever its case or Unicode form: the second becomes "Name 2". */
export class UniqueNames {
  readonly #taken = new Set<string>()
  /** Of names that were wanted before: the number that comes next, so that a thousand of one name take no million looks. */
  readonly #next = new Map<string, number>()

  take(name: string): string {
    const base = toFileName(name)
    const wanted = toNameKey(base)
    let n = this.#next.get(wanted) ?? 1
    const numbered = () => (n === 1 ? base : `${base} ${n}`)
    while (this.#taken.has(toNameKey(numbered()))) n++
    const unique = numbered()
    this.#next.set(wanted, n + 1)
    this.#taken.add(toNameKey(unique))
    return unique
  }
}
