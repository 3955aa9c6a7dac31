import * as v from 'valibot'
import { Name } from './names.ts'

export const DOWNLOADS_MAX = 100_000
/** What somebody with a link writes to the maker at once. */
export const HAND_OUT_NOTE_MAX_CHARS = 2000
export const HandOutNote = v.object({
  text: v.pipe(
    v.string(),
    v.trim(),
    v.minLength(1, 'a few words are needed'),
    v.maxLength(HAND_OUT_NOTE_MAX_CHARS, `a note may have ${HAND_OUT_NOTE_MAX_CHARS} characters`),
  ),
})

/** How often it may be fetched. */
export const DownloadLimit = v.pipe(
  v.number(),
  v.integer('a limit is a whole number'),
  v.minValue(1, 'a limit is at least 1'),
  v.maxValue(DOWNLOADS_MAX, `a limit is at most ${DOWNLOADS_MAX}`),
)

/** The last moment of a day where the page is. */
const endOf = (day: string) => new Date(`${day}T23:59:59`)

/** The day a hand-out ends on, as a form says it; null where it does not. */
export const EndDay = v.pipe(
  v.string(),
  v.transform((day) => (day === '' ? null : endOf(day))),
  v.nullable(
    v.pipe(
      v.date('an end is a day'),
      v.check((end) => end.getTime() > Date.now(), 'this day is over; take a later one'),
      v.transform((end) => end.toISOString()),
    ),
  ),
)
/** A limit of downloads, as a form says it; null where there is none. */
export const LimitText = v.pipe(
  v.string(),
  v.transform((typed) => (typed.trim() === '' ? null : Number(typed))),
  v.nullable(DownloadLimit),
)
/** Whether a hand-out goes on to newer releases, as a form says it. */
export const Newer = v.picklist(['follow', 'stay'])

/** A hand-out as its form says it: a day, and a number, each or none of them. */
export const HandOutForm = v.object({
  name: Name,
  editionId: v.pipe(
    v.string(),
    v.transform((id) => (id === '' ? null : id)),
  ),
  newer: Newer,
  endsAt: EndDay,
  downloadLimit: LimitText,
})
