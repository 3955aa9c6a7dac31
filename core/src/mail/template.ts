import * as v from 'valibot'

export const SUBJECT_MAX_CHARS = 200
export const BODY_MAX_CHARS = 5000

/** What a mail can say of a hand-out; each stands in its text as {name}. */
export const MAIL_FIELDS = {
  name: 'who it goes to',
  title: 'the pack',
  maker: 'who made it',
  version: 'the release',
  edition: 'what of it: the edition, or nothing',
  link: 'their own link',
  ends: 'the day the link ends, or nothing',
  news: 'what is new in the release, or nothing',
} as const
export type MailField = keyof typeof MAIL_FIELDS
export type MailValues = Record<MailField, string>

type Kind = { label: string; subject: string; body: string }
/** What is written, and for what. */
export const MAIL_KINDS = {
  link: {
    label: 'Their link',
    subject: '{title}: your link',
    body: [
      'Hello {name},',
      'here are brushes for you: {title}, release {version}, {edition}.',
      'Open this page on a phone or a computer. You can paint with them there before you fetch anything:',
      '{link}',
      'The link is yours alone; please do not pass it on. It works until {ends}.',
      '{maker}',
    ].join('\n\n'),
  },
  newer: {
    label: 'A newer release',
    subject: '{title} {version} is there',
    body: [
      'Hello {name},',
      'there is a newer release of {title}: {version}.',
      '{news}',
      'Your link gives it from now on:',
      '{link}',
      '{maker}',
    ].join('\n\n'),
  },
} as const satisfies Record<string, Kind>
export type MailKind = keyof typeof MAIL_KINDS
export const MAIL_KIND_NAMES = Object.keys(MAIL_KINDS) as MailKind[]

const FIELD = /\{([a-z]{1,20})\}/g
const isField = (name: string): name is MailField => Object.hasOwn(MAIL_FIELDS, name)

/** What stands in braces and is none of the fields. */
export const unknownFields = (text: string): string[] => [
  ...new Set([...text.matchAll(FIELD)].flatMap(([, name = '']) => (isField(name) ? [] : [name]))),
]

const knowsItsFields = v.check(
  (text: string) => unknownFields(text).length === 0,
  `only these can stand in braces: ${Object.keys(MAIL_FIELDS).join(', ')}`,
)
/** A template as it is typed: a subject, a body, and the link somewhere in it. */
export const MailTemplate = v.object({
  subject: v.pipe(
    v.string(),
    v.trim(),
    v.minLength(1, 'a subject is needed'),
    v.maxLength(SUBJECT_MAX_CHARS, `a subject may have ${SUBJECT_MAX_CHARS} characters`),
    knowsItsFields,
  ),
  body: v.pipe(
    v.string(),
    v.maxLength(BODY_MAX_CHARS, `a mail may have ${BODY_MAX_CHARS} characters`),
    v.includes('{link}', 'the mail needs their link: write {link} where it shall stand'),
    knowsItsFields,
  ),
})
export type MailTemplate = v.InferOutput<typeof MailTemplate>

/** A mail as it goes to one person. */
export type FilledMail = { subject: string; paragraphs: string[] }

/** Line breaks and other controls end a header's line; in a subject they are spaces. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is taken out
const CONTROLS = /[\u0000-\u001f\u007f\u2028\u2029]+/g

/**
 * Fills in a template for one person. A paragraph of nothing but what is not known is left out; a sentence that ends with
 * something unknown loses its last part (", {edition}."), and one that is about it ("until {ends}") goes.
 */
export function fillMail({ subject, body }: MailTemplate, values: MailValues): FilledMail {
  const paragraphs = body
    .split(/\n{2,}/)
    .map((paragraph) => fillLines(paragraph, values).trim())
    .filter((paragraph) => paragraph !== '')
  return {
    subject: fill(subject, values)
      .replaceAll(CONTROLS, ' ')
      .trim()
      .slice(0, 2 * SUBJECT_MAX_CHARS),
    paragraphs,
  }
}

const fill = (text: string, values: MailValues) =>
  text.replaceAll(FIELD, (written, name: string) => (isField(name) ? values[name] : written))

/** Of a field that has no value its sentence is left out, or, behind a comma, what stands from there on. */
function fillLines(paragraph: string, values: MailValues): string {
  const isEmpty = (text: string) =>
    [...text.matchAll(FIELD)].some(([, name = '']) => isField(name) && values[name] === '')
  const sentences = paragraph.split(/(?<=[.!?:])(?=\s)/)
  const kept = sentences.flatMap((sentence) => {
    if (!isEmpty(sentence)) return [sentence]
    const clauses = sentence.split(',')
    const left = clauses.filter((clause) => !isEmpty(clause))
    const end = /[.!?:]$/.exec(sentence.trimEnd())?.[0] ?? ''
    // the first clause says what it is about
    return clauses.length > 1 && left[0] === clauses[0] ? [`${left.join(',').replace(/[.!?:]$/, '')}${end}`] : []
  })
  return fill(kept.join(''), values)
}

/** The mail as plain text. */
export const mailText = ({ paragraphs }: FilledMail, foot: string): string =>
  `${[...paragraphs, `-- \n${foot}`].join('\n\n')}\n`

const SIGNS: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }
const toMarkup = (text: string) => text.replace(/[&<>"]/g, (sign) => SIGNS[sign] ?? sign)

/**
 * The same mail as a page: its paragraphs and the link, nothing else of what was typed is markup.
 * @param link What is made a link of where it stands. @param stop Where one says that no more are wanted; absent of what one asked for.
 */
export function mailHtml(
  { subject, paragraphs }: FilledMail,
  { link, foot, stop }: { link: string; foot: string; stop?: string },
): string {
  const anchor = `<a href="${toMarkup(link)}">${toMarkup(link)}</a>`
  const toHtml = (text: string) =>
    text
      .split(link)
      .map((piece) => toMarkup(piece).replaceAll('\n', '<br>'))
      .join(anchor)
  return [
    '<!doctype html><html><head><meta charset="utf-8">',
    `<title>${toMarkup(subject)}</title></head>`,
    '<body style="font-family:Georgia,serif;font-size:16px;line-height:1.5;max-width:36em">',
    ...paragraphs.map((paragraph) => `<p>${toHtml(paragraph)}</p>`),
    `<p style="font-size:13px">${toMarkup(foot)}${stop === undefined ? '' : ` <a href="${toMarkup(stop)}">No more mails, please</a>`}</p>`,
    '</body></html>',
  ].join('\n')
}
