import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isMailAddress } from './mail-address.ts'
import { checkPeople, PEOPLE_AT_ONCE, readPeople } from './read-people.ts'

const short = (text: string) => readPeople(text).people.map(({ name, email, note }) => [name, email, note])

describe('pasted people', () => {
  it.each([
    [
      'names alone',
      'Ida Marsh\n\nBo Reed\r\n',
      [
        ['Ida Marsh', '', ''],
        ['Bo Reed', '', ''],
      ],
    ],
    [
      'addresses alone, whose names are to be given',
      'ida@x.example\nbo@x.example',
      [
        ['', 'ida@x.example', ''],
        ['', 'bo@x.example', ''],
      ],
    ],
    [
      'names and addresses in any order',
      'Ida, ida@x.example\nbo@x.example, Bo',
      [
        ['Ida', 'ida@x.example', ''],
        ['Bo', 'bo@x.example', ''],
      ],
    ],
    [
      'what more there is, as a note',
      'Ida; ida@x.example; left hand; phone',
      [['Ida', 'ida@x.example', 'left hand, phone']],
    ],
    [
      'columns of a spreadsheet',
      'Ida\tida@x.example\tlate\nBo\tbo@x.example\t',
      [
        ['Ida', 'ida@x.example', 'late'],
        ['Bo', 'bo@x.example', ''],
      ],
    ],
    [
      'headings in any order',
      'Note,Last name,E-mail,First name\nlate,Marsh,ida@x.example,Ida',
      [['Ida Marsh', 'ida@x.example', 'late']],
    ],
    [
      'a person who is called Name, in no heading',
      'Ida, ida@x.example\nName, n@x.example',
      [
        ['Ida', 'ida@x.example', ''],
        ['Name', 'n@x.example', ''],
      ],
    ],
    [
      'an address in brackets among lines without',
      'Ida\nBo <bo@x.example\nMo',
      [
        ['Ida', '', ''],
        ['Bo', 'bo@x.example', ''],
        ['Mo', '', ''],
      ],
    ],
    ['an address that is none, kept to be mended', 'Ida, ida@', [['Ida', 'ida@', '']]],
  ])('are read: %s', (_what, text, wanted) => {
    expect(short(text)).toEqual(wanted)
  })

  // RFC 4180, section 2: its own examples of quoted fields, with line breaks, commas and doubled quotes in them
  it('are read as RFC 4180 writes fields', () => {
    expect(short('"aaa","b CRLF bb","ccc"\r\nzzz,yyy,xxx'.replace('CRLF', '\r\n'))).toEqual([
      ['aaa', '', 'b bb, ccc'],
      ['zzz', '', 'yyy, xxx'],
    ])
    expect(short('"aaa","b""bb","ccc"\r\n')).toEqual([['aaa', '', 'b"bb, ccc']])
  })

  // RFC 5322, appendix A.1.1 and A.1.2
  it('are read as mail programs write them', () => {
    expect(
      short(
        'John Doe <jdoe@machine.example>\n"Joe Q. Public" <john.q.public@example.com>, Mary Smith <mary@x.test>, jdoe@example.org, Who? <one@y.test>\n"Giant; \\"Big\\" Box" <sysservices@example.net>',
      ),
    ).toEqual([
      ['John Doe', 'jdoe@machine.example', ''],
      ['Joe Q. Public', 'john.q.public@example.com', ''],
      ['Mary Smith', 'mary@x.test', ''],
      ['', 'jdoe@example.org', ''],
      ['Who?', 'one@y.test', ''],
      ['Giant; "Big" Box', 'sysservices@example.net', ''],
    ])
  })

  it('are told with the lines they stand in', () => {
    expect(readPeople('Name,Mail\n\nIda,ida@x.example\n\nBo,bo@x.example').people.map(({ line }) => line)).toEqual([
      3, 5,
    ])
  })

  it('are no more than go at once, and the rest is counted', () => {
    const text = Array.from({ length: 100_000 }, (_, n) => `Person ${n},p${n}@x.example`).join('\n')
    const { people, more } = readPeople(text)
    expect([people.length, more]).toEqual([PEOPLE_AT_ONCE, 100_000 - PEOPLE_AT_ONCE])
  })

  it('are read from any text without an end', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('"', ',', ';', '\n', '<', '>', '@', 'a', ' ', '\t', 'ü') }),
        (text) => {
          const { people } = readPeople(text)
          expect(checkPeople(people)).toHaveLength(people.length)
        },
      ),
      { numRuns: 500 },
    )
  })
})

describe('what is wrong with people', () => {
  const says = (text: string) => checkPeople(readPeople(text).people).map((problem) => problem?.says)

  it('is said of each', () => {
    expect(says('Ida, ida@x.example\nida@y.example\nBo, bo@@x\nIDA, IDA@x.example\nIda')).toEqual([
      undefined,
      'needs a name',
      'has an address that mail cannot be sent to',
      'is the same as line 1',
      undefined,
    ])
    expect(says(`Ida\n${'x'.repeat(500)}\nida\n`)).toEqual([
      undefined,
      expect.stringContaining('characters'),
      'is the same as line 1',
    ])
  })
})

describe('a mail address', () => {
  it.each([
    'a@b',
    'ida.marsh+class@mail.x-y.example',
    "o'neil@x.example",
    'zoë@bücher.example',
    'имя@пример.example',
    '1@2.3',
  ])('is %s', (text) => expect(isMailAddress(text)).toBe(true))
  it.each([
    ...[
      '',
      'a',
      '@',
      'a@',
      '@b',
      'a b@c',
      'a@b c',
      'a@b..c',
      'a@.b',
      'a@b.',
      'a@-b',
      'a@b-',
      'a,b@c',
      'a@b@c d',
      'a@b>',
    ],
    ...[
      'a@b\n',
      `${'a'.repeat(65)}@b`,
      `a@${'b'.repeat(64)}`,
      `a@${'bcd.'.repeat(64)}e`,
      'a\r\nBcc: x@y',
      '<a@b>',
      'a@[1.2.3.4]',
    ],
  ])('is not %j', (text) => expect(isMailAddress(text)).toBe(false))
})
