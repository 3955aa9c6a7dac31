import { type FilledMail, mailHtml, mailText } from '@satchel/core/mail/template'
import MailComposer from 'nodemailer/lib/mail-composer'
import * as v from 'valibot'
import type { Mail } from '../db/mails.ts'
import type { Deps } from '../deps.ts'

/** What a mail says, as it is kept: sealed, since a link stands in it. */
const Content = v.object({ paragraphs: v.array(v.string()), link: v.string() })
export type MailContent = v.InferOutput<typeof Content>

export const sealContent = ({ links }: Pick<Deps, 'links'>, workspaceId: string, content: MailContent): string =>
  links.close(workspaceId, JSON.stringify(content))

/** @returns Nothing where it was sealed by another secret. */
function openContent({ links }: Pick<Deps, 'links'>, { workspaceId, contentSealed }: Mail): MailContent | undefined {
  const text = links.open(workspaceId, contentSealed)
  return text === undefined ? undefined : v.parse(Content, JSON.parse(text))
}

/** Who sends: an address, and the name beside it. */
export type MailFrom = { address: string; name: string }

/**
 * A mail as it goes over the wire (RFC 5322): text and page, with the way to stop more of them (RFC 2369, RFC 8058).
 * @returns Nothing where what it says cannot be opened any more.
 */
export async function composeMail(
  deps: Pick<Deps, 'links'>,
  mail: Mail,
  from: MailFrom,
): Promise<Uint8Array | undefined> {
  const content = openContent(deps, mail)
  if (!content) return undefined
  const filled: FilledMail = { subject: mail.subject, paragraphs: content.paragraphs }
  const foot = `Sent by ${from.name} with Gentle Satchel.`
  const domain = from.address.split('@').at(-1)
  const composer = new MailComposer({
    from,
    to: { name: mail.toName, address: mail.toAddress },
    subject: mail.subject,
    messageId: `<${mail.id}@${domain}>`,
    date: mail.createdAt,
    text: mailText(filled, `${foot}\nNo more mails, please: ${mail.stopUrl}`),
    html: mailHtml(filled, { link: content.link, foot, stop: mail.stopUrl }),
    headers: {
      'List-Unsubscribe': `<${mail.stopUrl}>`,
      'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
      'Auto-Submitted': 'auto-generated',
    },
    disableFileAccess: true,
    disableUrlAccess: true,
  })
  return composer.compile().build()
}
