import { toOneLine } from '../formats/text.ts'

const FORBIDDEN = /[<>:"/\\|?*]/g // not allowed in file names somewhere; common practice, no source
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i
const BASE_MAX_CHARS = 80

/** A name as a file name that every system takes: no reserved characters or words, no dots at its ends. */
export function toFileName(name: string): string {
  const base = toOneLine(name.replace(FORBIDDEN, '-'), BASE_MAX_CHARS).replace(/^[. ]+|[. ]+$/g, '')
  if (base === '') return 'Unnamed'
  return RESERVED.test(base) ? `${base}-` : base
}

/** Gives each file name of one folder once, ignoring case: the second becomes "Name 2". */
export class UniqueNames {
  readonly #taken = new Set<string>()

  take(name: string): string {
    const base = toFileName(name)
    let unique = base
    for (let n = 2; this.#taken.has(unique.toLowerCase()); n++) unique = `${base} ${n}`
    this.#taken.add(unique.toLowerCase())
    return unique
  }
}
