import { timingSafeEqual } from 'node:crypto'
import type { Deps } from '../deps.ts'

const MARK_BYTES = 10
const ID_CHARS = 32
/** What is before the plus, so that the whole is no longer than a mailbox may be: 64 (RFC 5321, 4.5.3.1.1). */
export const RETURN_NAME_MAX_CHARS = 64 - 1 - ID_CHARS - 2 * MARK_BYTES

/** Whether mails can come back to a mailbox, each under a name of its own. */
export const isReturnAddress = (text: string): boolean =>
  new RegExp(`^[A-Za-z0-9._-]{1,${RETURN_NAME_MAX_CHARS}}@[A-Za-z0-9.-]{1,200}$`).test(text)

/**
 * Where a mail comes back to that cannot be delivered: an address of its own for each, so that it is known which one it was, whatever
 * is in the letter. Only who was sent the mail knows it. Letters and digits alone: mail servers may change their case.
 */
export function returnAddress({ links }: Pick<Deps, 'links'>, returns: string, mailId: string): string {
  const at = returns.lastIndexOf('@')
  const id = mailId.replaceAll('-', '')
  return `${returns.slice(0, at)}+${id}${links.mark(id, MARK_BYTES)}${returns.slice(at)}`
}

/** The mail that came back to an address; undefined where it is none of ours. */
export function mailOfAddress({ links }: Pick<Deps, 'links'>, address: string): string | undefined {
  const mailbox = address.slice(0, address.lastIndexOf('@')).toLowerCase()
  const token = mailbox.slice(mailbox.lastIndexOf('+') + 1)
  const [id, mark] = [token.slice(0, ID_CHARS), token.slice(ID_CHARS)]
  if (!/^[0-9a-f]{52}$/.test(token)) return undefined
  if (!timingSafeEqual(Buffer.from(mark), Buffer.from(links.mark(id, MARK_BYTES)))) return undefined
  return [id.slice(0, 8), id.slice(8, 12), id.slice(12, 16), id.slice(16, 20), id.slice(20)].join('-')
}
