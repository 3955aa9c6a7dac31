import Papa from 'papaparse'
import { toOneLine } from '../formats/text.ts'
import { NAME_MAX_CHARS } from '../limits.ts'
import { isMailAddress } from './mail-address.ts'

/** People who are handed something in one go. */
export const PEOPLE_AT_ONCE = 500
/** What is said of a person. */
export const NOTE_MAX_CHARS = 300
/** A longer text is a file of something else. */
export const PEOPLE_TEXT_MAX_CHARS = 16_000_000

/** Somebody as pasted: a person or a group, and where in the text they stand, from 1. */
export type PersonRow = { line: number; name: string; email: string; note: string }

/** People of a text, no more than go at once, and how many more lines of it there are. */
export type ReadPeople = { people: PersonRow[]; more: number }

type Column = 'name' | 'first' | 'last' | 'email' | 'note'
/** What columns are called in lists of people; common practice. */
const HEADINGS: Record<Column, readonly string[]> = {
  name: ['name', 'full name', 'student', 'participant', 'person', 'group'],
  first: ['first name', 'firstname', 'given name', 'forename'],
  last: ['last name', 'lastname', 'surname', 'family name'],
  email: ['email', 'e-mail', 'mail', 'email address', 'e-mail address', 'mail address'],
  note: ['note', 'notes', 'remark', 'comment'],
}

/**
 * Reads people from what was pasted: a line each, as a name, an address, `Name <address>` (several of them in a line, as mail
 * programs write them), or as CSV (RFC 4180) or a spreadsheet's columns, with or without a line of headings.
 */
export function readPeople(text: string): ReadPeople {
  return hasAngles(text) ? readAngles(text) : readTable(text)
}

/** Whether it is as mail programs write people: most lines end an address with a bracket. */
function hasAngles(text: string): boolean {
  const lines = text
    .slice(0, 20_000)
    .split('\n')
    .filter((line) => line.trim() !== '')
  return lines.length > 0 && lines.filter((line) => line.includes('<') && line.includes('>')).length * 2 > lines.length
}

function readAngles(text: string): ReadPeople {
  const people: PersonRow[] = []
  let more = 0
  const add = (line: number, name: string, address: string) => {
    if (name === '' && address === '') return
    if (people.length >= PEOPLE_AT_ONCE) more++
    else people.push({ line, ...nameOrAddress(unquoted(name), address), note: '' })
  }
  for (const [at, line] of text.split('\n').entries())
    for (const part of line.split('>')) {
      const [before = '', address = ''] = part.split('<')
      let name = clean(before).replace(/^[,;\s]+/, '')
      // addresses without a bracket, before the one that has it
      for (let cut = name.indexOf(','); cut > 0 && isMailAddress(name.slice(0, cut)); cut = name.indexOf(',')) {
        add(at + 1, name.slice(0, cut), '')
        name = name.slice(cut + 1).trim()
      }
      add(at + 1, name, clean(address))
    }
  return { people, more }
}

const unquoted = (name: string) =>
  name.length > 1 && name.startsWith('"') && name.endsWith('"') ? name.slice(1, -1).replaceAll('\\"', '"') : name
const clean = (cell: string) => toOneLine(cell, NAME_MAX_CHARS + 1)

/** Where only an address stands it is both: the name can be mended, and nothing is made up. */
const nameOrAddress = (name: string, address: string) =>
  address === '' && isMailAddress(name) ? { name: '', email: name } : { name, email: address }

function readTable(text: string): ReadPeople {
  const people: PersonRow[] = []
  let more = 0
  let line = 0
  let headings: (Column | undefined)[] | undefined
  let isFirst = true
  Papa.parse<string[]>(text.trim() === '' ? '' : text, {
    delimitersToGuess: ['\t', ';', ','],
    step({ data: cells }) {
      line++
      if (cells.every((cell) => cell.trim() === '')) return
      if (isFirst) {
        isFirst = false
        headings = readHeadings(cells)
        if (headings) return
      }
      if (people.length >= PEOPLE_AT_ONCE) more++
      else people.push({ line, ...(headings ? byHeadings(cells, headings) : byLook(cells)) })
    },
  })
  return { people, more }
}

/** What a first line calls its columns; undefined where it is a person already. */
function readHeadings(cells: readonly string[]): (Column | undefined)[] | undefined {
  const columns = cells.map((cell) => {
    const word = cell.trim().toLowerCase()
    return (Object.keys(HEADINGS) as Column[]).find((column) => HEADINGS[column].includes(word))
  })
  return columns.some((column) => column && column !== 'note') ? columns : undefined
}

function byHeadings(cells: readonly string[], headings: readonly (Column | undefined)[]) {
  const of = (column: Column) =>
    clean(
      cells
        .filter((_cell, at) => headings[at] === column)
        .map((cell) => cell.trim())
        .filter((cell) => cell !== '')
        .join(' '),
    )
  const name = of('name') || clean(`${of('first')} ${of('last')}`)
  return { ...nameOrAddress(name, of('email')), note: noteOf(of('note')) }
}

const noteOf = (text: string) => toOneLine(text, NOTE_MAX_CHARS)

/** The cell with an @ is the address, the first other one the name, what is left the note. */
function byLook(cells: readonly string[]) {
  const filled = cells
    // an address in brackets, of which one may be lost
    .flatMap((cell) => (cell.includes('@') ? cell.split(/[<>]/) : cell))
    .map((cell) => clean(cell))
    .filter((cell) => cell !== '')
  const at = filled.findIndex((cell) => cell.includes('@'))
  const [name = '', ...rest] = filled.filter((_cell, i) => i !== at)
  return { name, email: filled[at] ?? '', note: noteOf(rest.join(', ')) }
}

/** What may be wrong with a person of a list, a row each: what is said of it. */
const PROBLEMS = {
  noName: () => 'needs a name',
  longName: () => `has a name of more than ${NAME_MAX_CHARS} characters`,
  badAddress: () => 'has an address that mail cannot be sent to',
  twice: (other: number) => `is the same as line ${other}`,
} satisfies Record<string, (other: number) => string>
export type PersonProblem = { kind: keyof typeof PROBLEMS; says: string }

/** What is wrong with each of some people, in their order; undefined where nothing is. */
export function checkPeople(people: readonly PersonRow[]): (PersonProblem | undefined)[] {
  const known = new Map<string, number>()
  return people.map(({ line, name, email }): PersonProblem | undefined => {
    const told = (kind: keyof typeof PROBLEMS, other = 0) => ({ kind, says: PROBLEMS[kind](other) })
    if (name.trim() === '') return told('noName')
    if (name.length > NAME_MAX_CHARS) return told('longName')
    if (email !== '' && !isMailAddress(email)) return told('badAddress')
    const key = personKey({ name, email })
    const other = known.get(key)
    if (other !== undefined) return told('twice', other)
    known.set(key, line)
    return undefined
  })
}

/** Two with the same key are one person: the same address, or the same name where there is none. */
export const personKey = ({ name, email }: { name: string; email: string }): string =>
  email === '' ? `name ${name.normalize('NFC').toLowerCase()}` : `mail ${email.toLowerCase()}`
