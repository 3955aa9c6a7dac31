import { linkEnd } from '@satchel/core/editions/link-end'
import {
  fillMail,
  MAIL_FIELDS,
  MAIL_KIND_NAMES,
  MAIL_KINDS,
  MailTemplate,
  type MailValues,
} from '@satchel/core/mail/template'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import * as v from 'valibot'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { SelectField, TextArea, TextField } from '../../../components/field.tsx'
import { Refused, useForm } from '../../../components/form.tsx'
import { plural } from '../../../components/format.ts'
import { newUuid } from '../../../components/new-uuid.ts'
import { LoadError, Loading } from '../../../components/states.tsx'
import { editionsQuery } from '../../../data/editions.ts'
import { mailTemplatesQuery, writeMails } from '../../../data/mails.ts'
import type { HandOut, Pack } from '../../../data/packs.ts'
import { useRefresh } from '../../../data/use-refresh.ts'

type Props = {
  pack: Pack
  chosen: readonly HandOut[]
  open: boolean
  onClose: () => void
  onWritten: (told: string) => void
}

/** A mail to people who have a pack, each with their own link: the words, and how they read for the first of them. */
export function MailDialog(props: Props) {
  const { chosen, open, onClose } = props
  return (
    <Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Write to ${plural(chosen.length, 'person', 'people')}`}
      description="Each gets their own link. Who has no address, wants no mails or has a dead link is left out, and told."
      shape="wide"
    >
      <Words {...props} />
    </Dialog>
  )
}

type Templates = Awaited<ReturnType<NonNullable<typeof mailTemplatesQuery.queryFn>>>

function Words(props: Props) {
  const templates = useQuery(mailTemplatesQuery)
  const [kind, setKind] = useState(MAIL_KIND_NAMES[0] ?? 'link')
  if (templates.isError) return <LoadError error={templates.error} onRetry={() => void templates.refetch()} />
  if (!templates.data) return <Loading what="the words" />
  const { from, mailbox, templates: all } = templates.data
  if (from === null)
    return (
      <p>
        This server sends no mail. Whoever runs it can name a mail server (SATCHEL_SMTP); until then, copy the links and
        send them yourself.
      </p>
    )
  return (
    <div className="grid gap-4">
      <SelectField
        label="What to write"
        value={kind}
        choices={MAIL_KIND_NAMES.map((name) => ({ value: name, label: MAIL_KINDS[name].label }))}
        onChange={(event) => setKind(MAIL_KIND_NAMES.find((name) => name === event.target.value) ?? kind)}
      />
      <Letter key={kind} {...props} {...{ kind, from, mailbox }} template={all.find((each) => each.kind === kind)} />
    </div>
  )
}

type LetterProps = Props &
  Pick<Templates, 'from' | 'mailbox'> & {
    kind: (typeof MAIL_KIND_NAMES)[number]
    template: { subject: string; body: string } | undefined
  }

/** Whose days are meant where one is said. */
const HERE = Intl.DateTimeFormat().resolvedOptions().timeZone

const LetterForm = v.object({ ...MailTemplate.entries, keep: v.boolean() })

function Letter({ pack, chosen, onClose, onWritten, kind, from, mailbox, template }: LetterProps) {
  const refresh = useRefresh()
  const [actId] = useState(newUuid)
  const { form, field, control, isSending, refused } = useForm({
    schema: LetterForm,
    first: { subject: template?.subject ?? '', body: template?.body ?? '', keep: false },
    async send(words) {
      const ids = chosen.map(({ id }) => id)
      const { written, left } = await writeMails(pack.id, { ...words, kind, ids, actId, zone: HERE }).finally(() =>
        refresh('pack'),
      )
      onClose()
      const said = left.slice(0, 3).map(({ name, why }) => `${name} ${why}`)
      const more = left.length > 3 ? `, and ${left.length - 3} more were left out` : ''
      onWritten(
        `${plural(written, 'mail')} on ${written === 1 ? 'its' : 'their'} way.${said.length > 0 ? ` Left out: ${said.join('; ')}${more}.` : ''}`,
      )
    },
  })
  const words = useWatch({ control })
  const first = chosen.find(({ email }) => email !== '') ?? chosen[0]
  const kit = useQuery(editionsQuery(pack.id)).data?.editions.find(({ id }) => id === first?.editionId)?.plan.kit
  const ends = linkEnd(first?.endsAt ? new Date(first.endsAt) : null, kit, HERE)
  const values = valuesFor(pack, first, ends?.lastDay ?? '')
  const filled = fillMail({ subject: words.subject ?? '', body: words.body ?? '' }, values)
  return (
    <form {...form} className="grid gap-4">
      <div className="grid gap-4 wide:grid-cols-2">
        <div className="grid content-start gap-3">
          <TextField label="Subject" {...field('subject')} />
          <TextArea
            label="Text"
            rows={14}
            hint={`In braces: ${Object.entries(MAIL_FIELDS)
              .map(([name, said]) => `{${name}} ${said}`)
              .join('; ')}. Where something is not known its sentence is left out.`}
            {...field('body')}
          />
        </div>
        <section aria-label="As it will read" className="grid content-start gap-2">
          <p className="text-13 font-medium text-quiet">As {first?.name ?? 'somebody'} will read it</p>
          <div className="grid gap-3 rounded-6 border border-line bg-surface p-4 [overflow-wrap:anywhere]">
            <p className="text-13 text-quiet">From {from}</p>
            <p className="font-medium">{filled.subject || 'no subject'}</p>
            {filled.paragraphs.map((paragraph, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: paragraphs may be the same, and none has a state
              <p key={at} className="whitespace-pre-line">
                {paragraph}
              </p>
            ))}
          </div>
        </section>
      </div>
      <label className="flex items-center gap-2">
        <input type="checkbox" {...field('keep')} />
        Keep these words for the next time
      </label>
      {mailbox && (
        <p className="text-13 text-quiet">
          No mail server is set: mails stay on this machine, and are shown in its{' '}
          <a href={mailbox} target="_blank" rel="noreferrer" className="text-saddle underline underline-offset-2">
            letter box
          </a>
          .
        </p>
      )}
      <Refused>{refused}</Refused>
      <Button kind="primary" type="submit" disabled={isSending}>
        Send {plural(chosen.length, 'mail')}
      </Button>
    </form>
  )
}

/** What stands in the place of the fields, for one person; the link itself is told to nobody before. */
function valuesFor(pack: Pack, handOut: HandOut | undefined, ends: string): MailValues {
  const release = pack.releases.find(({ version }) => version === handOut?.version)
  return {
    name: handOut?.name ?? '',
    title: pack.title,
    maker: pack.maker,
    version: handOut?.version ?? '',
    edition: handOut?.edition ?? '',
    link: `${location.origin}/h/…`,
    ends,
    news: handOut?.edition ? '' : (release?.notes ?? ''),
  }
}
