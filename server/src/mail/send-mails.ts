import { listLatestJobs } from '../db/jobs.ts'
import { countWaiting, endMail, listMailing, loseMails, type Mail, takeMail } from '../db/mails.ts'
import type { Deps } from '../deps.ts'
import type { JobHandler, JobQueue } from '../queue/queue.ts'
import { composeMail, type MailFrom } from './compose-mail.ts'
import { returnAddress } from './return-address.ts'
import { type Outcome, SmtpSender } from './smtp-sender.ts'

/** How mails go out: through which server, in whose name. */
export type MailSettings = {
  smtp: string
  from: string
  /** The mailbox that what cannot be delivered comes back to, where somebody hands that on to us. */
  returns?: string
}

const MINUTE_MS = 60_000
/** How long to wait after each try that found no taker; then it is given up. */
export const WAITS_MINUTES = [1, 2, 5, 15, 60, 240, 720] as const
const LOOK_MS = 5_000
/** How often pages are told how far it is. */
const TOLD_MS = 1000

/**
 * Sends the mails of a workspace that are due, one after the other. A mail is on its way before the first byte is sent, and what
 * was on its way when a server was lost is not sent again: nobody knows whether it arrived, and that is said.
 */
export const sendMails = (deps: Deps, settings: MailSettings | undefined): JobHandler<'send-mails'> => ({
  async run({ job: { workspaceId }, signal, progress }) {
    const { db, events } = deps
    if ((await loseMails(db, workspaceId)) > 0) await events.publish({ workspaceId, topic: 'packs' })
    if (!settings) return
    const sender = new SmtpSender(settings.smtp)
    const from = toFrom(settings.from)
    const { returns } = settings
    const returnsTo = (id: string) => (returns ? returnAddress(deps, returns, id) : from.address)
    let [done, toldAt] = [0, 0]
    try {
      for (let mail = await takeMail(db, workspaceId); mail; mail = await next(deps, workspaceId, signal)) {
        const message = await composeMail(deps, mail, from)
        const outcome: Outcome = message
          ? await sender.send({ from: returnsTo(mail.id), to: mail.toAddress }, message, signal)
          : { state: 'refused', said: 'It was sealed by another secret of the server; write it anew.' }
        await endMail(db, mail, ended(mail, outcome))
        progress(++done, done + (await countWaiting(db, workspaceId)))
        // pages look anew at each of these; the end of the job is told in any case
        if (Date.now() - toldAt < TOLD_MS) continue
        toldAt = Date.now()
        await events.publish({ workspaceId, topic: 'packs' })
      }
    } finally {
      sender.close()
    }
  },
  // written while the last ones went out
  more: async ({ workspaceId }) => settings !== undefined && (await listMailing(deps.db)).includes(workspaceId),
})

async function next({ db }: Deps, workspaceId: string, signal: AbortSignal): Promise<Mail | undefined> {
  signal.throwIfAborted()
  return takeMail(db, workspaceId)
}

/** How a mail stands after a try. */
export function ended({ tries }: Pick<Mail, 'tries'>, { state, said }: Outcome): Parameters<typeof endMail>[2] {
  if (state === 'sent') return { state, said, sentAt: new Date() }
  if (state !== 'waiting') return { state, said }
  const minutes = WAITS_MINUTES[tries - 1]
  if (minutes === undefined) return { state: 'refused', said: `Given up after ${tries} tries: ${said}` }
  return { state, said, nextAt: new Date(Date.now() + minutes * MINUTE_MS) }
}

/** Who sends, from "Name <address>" or an address alone. */
export function toFrom(text: string): MailFrom {
  const whole = text.trim()
  const at = whole.lastIndexOf('<')
  if (at < 0 || !whole.endsWith('>')) return { address: whole, name: whole }
  const address = whole.slice(at + 1, -1).trim()
  return { address, name: whole.slice(0, at).trim() || address }
}

/**
 * Begins to send mails again once they are due: after a wait, or after a server was lost.
 * @returns How to stop looking.
 */
export function keepMailing({ db, jobs, log }: Pick<Deps, 'db' | 'log'> & { jobs: JobQueue }): () => void {
  const look = async () => {
    for (const workspaceId of await listMailing(db)) {
      // what somebody has stopped goes on when they say so, or write anew
      const latest = await listLatestJobs(db, workspaceId, 'send-mails', [workspaceId])
      if (latest.get(workspaceId)?.state === 'stopped') continue
      // where one cannot begin, the others do
      await startMailing(jobs, workspaceId).catch((error: unknown) => log.error({ err: error }, 'mailing'))
    }
  }
  const timer = setInterval(() => void look().catch((error: Error) => log.error({ err: error }, 'mailing')), LOOK_MS)
  return () => clearInterval(timer)
}

export const startMailing = (jobs: JobQueue, workspaceId: string) =>
  jobs.add({ workspaceId, kind: 'send-mails', subjectId: workspaceId, title: 'Sending mails', payload: {} })
