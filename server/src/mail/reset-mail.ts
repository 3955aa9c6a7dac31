import { mailHtml, mailText } from '@satchel/core/mail/template'
import MailComposer from 'nodemailer/lib/mail-composer'
import type { Log } from '../log.ts'
import { type MailSettings, toFrom } from './send-mails.ts'
import { SmtpSender } from './smtp-sender.ts'

/** Who waits for it looks at once: what takes longer is given up, and asked for again. */
const GIVEN_UP_MS = 60_000

/**
 * Sends a link to choose another password. It is sent beside the answer, which says neither whether there is such an account nor how
 * the mail fared; that stands in the log.
 */
export function resetMailer({ smtp, from: sender }: MailSettings, origin: string, log: Log) {
  const from = toFrom(sender)
  const send = async ({ email, name, token }: { email: string; name: string; token: string }) => {
    const link = `${origin}/reset/${token}`
    const filled = {
      subject: 'Another password for Gentle Satchel',
      paragraphs: [
        `Hello ${name},`,
        'somebody, probably you, has asked for another password. This link leads to where it is chosen; it is good once, for an hour:',
        link,
        'If it was not you, nothing has to be done: your password stays as it is.',
      ],
    }
    const foot = `Sent by ${from.name} with Gentle Satchel.`
    const composer = new MailComposer({
      from,
      to: { name, address: email },
      subject: filled.subject,
      text: mailText(filled, foot),
      html: mailHtml(filled, { link, foot }),
      headers: { 'Auto-Submitted': 'auto-generated' },
      disableFileAccess: true,
      disableUrlAccess: true,
    })
    const connection = new SmtpSender(smtp)
    try {
      const message = await composer.compile().build()
      const envelope = { from: from.address, to: email }
      const { state } = await connection.send(envelope, message, AbortSignal.timeout(GIVEN_UP_MS))
      if (state !== 'sent') log.warn({ state }, 'a link to another password was not sent')
    } finally {
      connection.close()
    }
  }
  return async (to: { email: string; name: string; token: string }): Promise<void> => {
    send(to).catch((error: unknown) => log.error({ err: error }, 'a link to another password was not sent'))
  }
}
