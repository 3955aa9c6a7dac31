import { HandOutNote } from '@satchel/core/forms/hand-out'
import { useRef, useState } from 'react'
import { Button } from '../../components/button.tsx'
import { TextArea } from '../../components/field.tsx'
import { Refused, useForm } from '../../components/form.tsx'
import { newUuid } from '../../components/new-uuid.ts'
import { sendNote } from '../../data/hand-out-page.ts'
import type { Taker } from './get-files.tsx'
import { OPEN } from './remembered.ts'

const FOR_ANY = [
  'The archive itself was copied. No program looks into it: unpack it first.',
  'The program reads another kind of file: of each brush there are a picture (PNG) and a brush file (GBR or GIH); try the other one.',
  'The program was open while they were copied: start it anew.',
]

/** The usual reasons why brushes do not show or paint, and a note to the maker, which takes no account. */
export function NotWorking({ token, taker }: { token: string; taker: Taker }) {
  const [isSent, setSent] = useState(false)
  // the same note, sent again after an answer that was lost, is one
  const sentId = useRef(newUuid())
  const app = taker === OPEN ? '' : taker.name
  const { form, field, isSending, refused } = useForm({
    schema: HandOutNote,
    first: { text: '' },
    async send({ text }) {
      await sendNote(token, { sentId: sentId.current, app, text })
      setSent(true)
    },
  })
  return (
    <section className="grid gap-3 rounded-6 border border-line p-4" aria-label="It does not work">
      <h3 className="font-title text-18">Why it usually does not work</h3>
      <ul className="grid list-disc gap-1 pl-5">
        {(taker === OPEN ? FOR_ANY : taker.reasons).map((reason) => (
          <li key={reason}>{reason}</li>
        ))}
      </ul>
      {isSent ? (
        <p role="status">
          Your note is with the maker. They know which hand-out it is from; add how to reach you if they should answer.
        </p>
      ) : (
        <form {...form} className="grid gap-3">
          <TextArea
            label="A note to the maker"
            hint="Which brush, what you see, which system you are on. They see your name as it stands on this page, the release and the app."
            {...field('text')}
          />
          <Refused>{refused}</Refused>
          <div>
            <Button type="submit" disabled={isSending}>
              Send the note
            </Button>
          </div>
        </form>
      )}
    </section>
  )
}
