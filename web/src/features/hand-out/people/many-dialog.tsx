import { EndDay, LimitText, Newer } from '@satchel/core/forms/hand-out'
import {
  checkPeople,
  PEOPLE_AT_ONCE,
  PEOPLE_TEXT_MAX_CHARS,
  type PersonRow,
  readPeople,
} from '@satchel/core/people/read-people'
import { useState } from 'react'
import * as v from 'valibot'
import { Button, buttonLook } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { SelectField, TextArea, TextField } from '../../../components/field.tsx'
import { Refused, useForm } from '../../../components/form.tsx'
import { plural } from '../../../components/format.ts'
import { newUuid } from '../../../components/new-uuid.ts'
import type { Pack } from '../../../data/packs.ts'
import { handOutToMany } from '../../../data/people.ts'
import { useRefresh } from '../../../data/use-refresh.ts'
import { EditionField } from '../edition-field.tsx'
import { PeopleToAdd } from './people-to-add.tsx'

type Props = { pack: Pack; open: boolean; onClose: () => void; onGiven: (ids: string[]) => void }

/** A release given to many people in one act. */
export function ManyDialog(props: Props) {
  const { pack, open, onClose } = props
  return (
    <Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title={`Hand out ${pack.title} to many`}
      description="Each gets a link of their own. Nobody is written to: you send the links, or print them as cards."
      shape="wide"
    >
      <Giving {...props} />
    </Dialog>
  )
}

/** Releases that can be given. */
export const givable = ({ releases }: Pack) =>
  releases.filter(({ state, recalledAt }) => state === 'ready' && recalledAt === null)

const TermsForm = v.object({
  releaseId: v.string(),
  editionId: v.string(),
  newer: Newer,
  endsAt: EndDay,
  downloadLimit: LimitText,
})

function Giving({ pack, onClose, onGiven }: Props) {
  const refresh = useRefresh()
  const [people, setPeople] = useState<PersonRow[]>([])
  const [said, setSaid] = useState('')
  const [batchId] = useState(newUuid)
  const wrong = checkPeople(people).filter((problem) => problem !== undefined).length
  const releases = givable(pack)
  const { form, field, isSending, refused } = useForm({
    schema: TermsForm,
    first: { releaseId: releases[0]?.id ?? '', editionId: '', newer: 'follow', endsAt: '', downloadLimit: '' },
    async send({ newer, editionId, ...terms }) {
      const { ids } = await handOutToMany(pack.id, {
        ...{ ...terms, batchId, editionId: editionId || null, follows: newer === 'follow' },
        people: people.map(({ name, email, note }) => ({ name, email, note })),
      }).finally(() => refresh('packs', 'pack', 'tally'))
      onClose()
      onGiven(ids)
    },
  })
  const take = (text: string) => {
    if (text.length > PEOPLE_TEXT_MAX_CHARS) {
      setPeople([])
      setSaid('This is too long for a list of people; take the one with names and addresses.')
      return
    }
    const { people: found, more } = readPeople(text)
    setPeople(found)
    setSaid(
      more > 0
        ? `${PEOPLE_AT_ONCE} people go at once: ${plural(more, 'line')} more ${more === 1 ? 'is' : 'are'} left for the next time.`
        : '',
    )
  }
  return (
    <form {...form} className="grid gap-4">
      <TextArea
        label="People"
        rows={4}
        placeholder={'Ida Marsh, ida@marsh.example, left hand\nBo Reed <bo@reed.example>\nThe evening class'}
        hint="A line each, pasted from a list, a mail or a spreadsheet. What is read stands below, to be mended."
        onChange={(event) => take(event.target.value)}
      />
      <label className={`${buttonLook()} justify-self-start has-[:focus-visible]:outline-2`}>
        Or take them from a file
        <input
          type="file"
          className="sr-only"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          onChange={(event) => {
            const [file] = event.target.files ?? []
            if (file && file.size > PEOPLE_TEXT_MAX_CHARS) setSaid(`${file.name} is too large for a list of people.`)
            else if (file) void file.text().then(take)
          }}
        />
      </label>
      {said && <p role="status">{said}</p>}
      {people.length > 0 && <PeopleToAdd people={people} onChange={setPeople} />}
      <div className="grid gap-3 sm:grid-cols-2">
        <SelectField
          label="Release"
          choices={releases.map(({ id, version }) => ({ value: id, label: version }))}
          {...field('releaseId')}
        />
        <EditionField packId={pack.id} {...field('editionId')} />
        <SelectField
          label="When a newer one is out"
          choices={[
            { value: 'follow', label: 'their link gives the newest one' },
            { value: 'stay', label: 'they keep the chosen one' },
          ]}
          {...field('newer')}
        />
        <TextField label="Ends on (if at all)" type="date" {...field('endsAt')} />
        <TextField label="Most downloads each (if limited)" inputMode="numeric" {...field('downloadLimit')} />
      </div>
      <Refused>{refused}</Refused>
      {wrong > 0 && (
        <p role="status" className="text-madder">
          {plural(wrong, 'line')} {wrong === 1 ? 'needs' : 'need'} mending, or to be left out.
        </p>
      )}
      <Button kind="primary" type="submit" disabled={isSending || people.length === 0 || wrong > 0}>
        {people.length === 0 ? 'Make the links' : `Make ${plural(people.length, 'link')}`}
      </Button>
    </form>
  )
}
