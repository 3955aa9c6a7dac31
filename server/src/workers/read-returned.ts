import { parseDeliveryStatus } from '@satchel/core/mail/delivery-status'
import PostalMime from 'postal-mime'
import type { Tasks } from './tasks.ts'

/** Reads what a letter that came back reports (RFC 3462, 3464); nothing where it reports nothing. */
export const readReturned: Tasks['readReturned'] = async ({ letter }) => {
  const { attachments } = await PostalMime.parse(letter, { maxNestingDepth: 10, maxHeadersSize: 65_536 })
  const report = attachments.find(({ mimeType }) => mimeType === 'message/delivery-status')
  if (!report) return undefined
  const { content } = report
  return parseDeliveryStatus(
    typeof content === 'string' ? content : Buffer.from(content as Uint8Array).toString('utf8'),
  )
}
