import * as v from 'valibot'

/** RFC 5321, 4.5.3.1: a whole address, what stands before its @, and a part of its domain. */
const [ADDRESS_MAX, LOCAL_MAX, LABEL_MAX] = [254, 64, 63]
const LOCAL_SIGNS = /^[\p{L}\p{M}\p{N}.!#$%&'*+/=?^_`{|}~-]+$/u
const LABEL_SIGNS = /^[\p{L}\p{M}\p{N}-]+$/u

/**
 * Whether a text is a mail address that a message can be sent to: what the HTML standard calls a valid e-mail address
 * (https://html.spec.whatwg.org/#valid-e-mail-address), with letters of any script (RFC 6532), and of a length that mail
 * takes. Quoted names and comments before the @, which RFC 5322 also has, are nobody's and are not taken.
 */
export function isMailAddress(text: string): boolean {
  const at = text.lastIndexOf('@')
  const [local, labels] = [text.slice(0, at), text.slice(at + 1).split('.')]
  if (at < 1 || text.length > ADDRESS_MAX || local.length > LOCAL_MAX || !LOCAL_SIGNS.test(local)) return false
  return labels.every(
    (label) =>
      label !== '' &&
      label.length <= LABEL_MAX &&
      LABEL_SIGNS.test(label) &&
      !label.startsWith('-') &&
      !label.endsWith('-'),
  )
}

/** A mail address as it is kept; empty where there is none. */
export const MailAddress = v.pipe(
  v.string(),
  v.trim(),
  v.check((text) => text === '' || isMailAddress(text), 'this is no mail address'),
)
