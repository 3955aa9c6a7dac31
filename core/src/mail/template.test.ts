import fc from 'fast-check'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import {
  fillMail,
  MAIL_KIND_NAMES,
  MAIL_KINDS,
  MailTemplate,
  type MailValues,
  mailHtml,
  mailText,
  unknownFields,
} from './template.ts'

const values: MailValues = {
  ...{ name: 'Ida', title: 'Shore', maker: 'Tidewrack Studio', version: '1.1.0', edition: 'the evening class' },
  ...{ link: 'https://satchel.example/h/abc', ends: '4 May 2027', news: 'Sand is new.' },
}
const paragraphsOf = (body: string, more: Partial<MailValues> = {}) =>
  fillMail({ subject: 'x', body }, { ...values, ...more }).paragraphs

describe('a mail', () => {
  it.each(MAIL_KIND_NAMES)('%s is a template that can be sent', (kind) => {
    expect(v.parse(MailTemplate, MAIL_KINDS[kind])).toEqual({
      subject: MAIL_KINDS[kind].subject,
      body: MAIL_KINDS[kind].body,
    })
    const { subject, paragraphs } = fillMail(MAIL_KINDS[kind], values)
    expect([subject, ...paragraphs].join('\n')).not.toMatch(/[{}]/)
    expect(paragraphs).toContain(values.link)
  })

  it('says nothing of what is not known', () => {
    const { paragraphs } = fillMail(MAIL_KINDS.link, { ...values, edition: '', ends: '', maker: '' })
    expect(paragraphs).toEqual([
      'Hello Ida,',
      'here are brushes for you: Shore, release 1.1.0.',
      'Open this page on a phone or a computer. You can paint with them there before you fetch anything:',
      values.link,
      'The link is yours alone; please do not pass it on.',
    ])
    expect(fillMail(MAIL_KINDS.newer, { ...values, news: '' }).paragraphs).not.toContain('')
    expect(paragraphsOf('Of {news}. {link}', { news: '' })).toEqual([values.link])
  })

  it('refuses a template without the link, and fields that nobody knows', () => {
    const refused = (body: string, subject = 'x') => {
      const read = v.safeParse(MailTemplate, { subject, body })
      return read.issues?.[0]?.message
    }
    expect(refused('Hello')).toContain('{link}')
    expect(refused('{link} {password}')).toContain('only these can stand in braces')
    expect(refused('{link}', '{tilte}')).toContain('only these')
    expect(refused('{link}', '  ')).toContain('subject')
    expect(unknownFields('{name} {Name} {nope} {nope}')).toEqual(['nope'])
  })

  it('has one line as its subject, whatever a title holds', () => {
    const title = 'Shore\r\nBcc: all@x.example\u2028more'
    expect(fillMail({ subject: '{title}', body: '{link}' }, { ...values, title }).subject).toBe(
      'Shore Bcc: all@x.example more',
    )
  })

  it('as a page has no markup but its own, whatever is typed or filled in', () => {
    const nasty = fc.string({ unit: fc.constantFrom('<', '>', '"', '&', "'", 'a', ' ', '/', 'script', '\n', '{', '}') })
    fc.assert(
      fc.property(nasty, nasty, (name, text) => {
        const mail = fillMail({ subject: name, body: `${text}\n\n{link}` }, { ...values, name })
        const html = mailHtml(mail, { link: values.link, foot: name, stop: 'https://x.example/stop' })
        const tags = [...html.matchAll(/<\/?([a-z!]+)/g)].map(([, tag]) => tag)
        const ours = ['!doctype', 'html', 'head', 'meta', 'title', 'body', 'p', 'a', 'br']
        expect(tags.filter((tag) => !ours.includes(tag ?? ''))).toEqual([])
        expect(html.match(/<a /g)).toHaveLength(2)
      }),
    )
  })

  it('as text says the same, with its foot below the usual line', () => {
    const mail = fillMail({ subject: 'x', body: 'Hello {name},\n\n{link}' }, values)
    expect(mailText(mail, 'Sent by Tidewrack.')).toBe(`Hello Ida,\n\n${values.link}\n\n-- \nSent by Tidewrack.\n`)
  })
})
