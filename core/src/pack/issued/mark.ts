import * as v from 'valibot'
import { toOneLine, toUtf8 } from '../../formats/text.ts'
import { NAME_MAX_CHARS } from '../../limits.ts'
import type { CheckSignature, Signer } from '../signature.ts'

/** Whom a copy was issued to, as it stands in its files. */
export const CopyMark = v.strictObject({
  /** The person or the group. */
  to: v.pipe(v.string(), v.maxLength(2 * NAME_MAX_CHARS)),
  /** Names the copy; whoever issued it finds the hand-out by it. */
  copy: v.pipe(v.string(), v.uuid()),
  /** The pack and its release. */
  of: v.pipe(v.string(), v.maxLength(4 * NAME_MAX_CHARS)),
  /** The Ed25519 signature of all that by whoever issued it, as Base64 without padding. */
  signed: v.pipe(v.string(), v.regex(/^[\w-]{86}$/)),
})
export type CopyMark = v.InferOutput<typeof CopyMark>
export type Issued = Omit<CopyMark, 'signed'>

/** What every line of a mark begins with, in the order in which they stand. */
const WORDS = { to: 'Issued to', of: 'Release', copy: 'Copy', signed: 'Signed' } as const satisfies Record<
  keyof CopyMark,
  string
>
const KEYS = Object.keys(WORDS) as (keyof CopyMark)[]
export const MARK_BEGINS = `${WORDS.to}: `
/** A mark as text is no longer, in characters. */
export const MARK_MAX_CHARS = 6 * NAME_MAX_CHARS + 300

/** What is signed: the lines without the last one. */
const signedBytes = (issued: Issued): Uint8Array =>
  toUtf8(`A copy\n${(['to', 'of', 'copy'] as const).map((key) => `${WORDS[key]}: ${issued[key]}\n`).join('')}`)

const toBase64 = (bytes: Uint8Array): string =>
  btoa(String.fromCharCode(...bytes))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '')
const fromBase64 = (text: string): Uint8Array =>
  Uint8Array.from(atob(text.replaceAll('-', '+').replaceAll('_', '/')), (sign) => sign.charCodeAt(0))

/** A mark, signed. Names are put on one line, whatever they hold. */
export function signMark({ to, of, copy }: Issued, signer: Signer): CopyMark {
  const issued = { to: toOneLine(to, NAME_MAX_CHARS), of: toOneLine(of, 2 * NAME_MAX_CHARS), copy }
  return { ...issued, signed: toBase64(signer.sign(signedBytes(issued))) }
}

/** Who has signed a mark, and whether it is as it was then. */
export const checkMark = (mark: CopyMark, pem: string, checkSignature: CheckSignature) =>
  checkSignature(pem, signedBytes(mark), fromBase64(mark.signed))

export const isSameMark = (a: CopyMark, b: CopyMark): boolean => KEYS.every((key) => a[key] === b[key])

/** A mark as lines of text, to be read by people too. */
export const markLines = (mark: CopyMark): string[] => KEYS.map((key) => `${WORDS[key]}: ${mark[key]}`)

/** Reads such lines; nothing where they are none. */
export function readMarkLines(lines: readonly string[]): CopyMark | undefined {
  if (lines.length !== KEYS.length) return undefined
  const said = KEYS.map((key, i) => {
    const line = lines[i] ?? ''
    return line.startsWith(`${WORDS[key]}: `) ? [key, line.slice(WORDS[key].length + 2)] : [key]
  })
  const mark = v.safeParse(CopyMark, Object.fromEntries(said))
  return mark.success ? mark.output : undefined
}
