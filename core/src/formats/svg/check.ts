import { SaxesParser, type SaxesTagPlain } from 'saxes'
import { FormatError, LimitError } from '../../errors.ts'
import { fromUtf8OrLatin1 } from '../text.ts'
import { SvgCost } from './cost.ts'

/** What the format is called in messages. */
export const SVG = 'SVG'
/** Bytes of a drawing. */
export const SVG_MAX_BYTES = 5 * 1024 * 1024
/** Elements of a drawing: more take longer to draw than anybody waits. */
const ELEMENTS_MAX = 100_000
const NESTING_MAX = 256

/** Elements that run something, bring in what is not a drawing, or move. */
const REFUSED = [
  'script',
  'foreignObject',
  'iframe',
  'audio',
  'video',
  'handler',
  'listener',
  'image',
  'animate',
  'animateMotion',
  'animateTransform',
  'set',
]
/** Attributes that name another place. */
const NAMES_PLACE = /^(.*:)?(href|src)$/
/** In styles: what is fetched from elsewhere. A place inside the drawing begins with a hash. */
function fetches(text: string): boolean {
  const lower = text.toLowerCase()
  if (lower.includes('@import')) return true
  for (let at = lower.indexOf('url('); at >= 0; at = lower.indexOf('url(', at + 1)) {
    const place = lower.slice(at + 4, at + 4 + PLACE_CHARS).trimStart()
    if (!/^["']?#/.test(place)) return true
  }
  return false
}
/** Characters in which a place has to begin; nobody puts more spaces before it. */
const PLACE_CHARS = 64

/** How many bytes of a file are looked at to tell what it is. */
const SIGNS_BYTES = 2048

/** Whether a file begins as an SVG does: perhaps with a declaration, comments and a type, then its root. */
export function looksLikeSvg(head: Uint8Array): boolean {
  const text = fromUtf8OrLatin1(head.subarray(0, SIGNS_BYTES)).replace(/^\ufeff/, '')
  for (let at = skipSpace(text, 0); text[at] === '<'; at = skipSpace(text, at)) {
    if (text.startsWith('<svg', at)) return /[\s>]/.test(text[at + 4] ?? '')
    const prolog = PROLOG.find(({ begins }) => text.startsWith(begins, at))
    const end = prolog ? prolog.findEnd(text, at + prolog.begins.length) : -1
    if (end < 0) return false
    at = end
  }
  return false
}

function skipSpace(text: string, from: number): number {
  let at = from
  while (at < text.length && /\s/.test(text[at])) at++
  return at
}

/** What may stand before the root (XML 1.0, section 2.8): where each part ends, behind its beginning; -1 where it does not. */
const PROLOG: readonly { begins: string; findEnd: (text: string, from: number) => number }[] = [
  { begins: '<?xml', findEnd: (text, from) => behind(text, '>', from) },
  { begins: '<!--', findEnd: (text, from) => behind(text, '-->', from) },
  {
    begins: '<!DOCTYPE',
    findEnd(text, from) {
      if (!/^\s+svg/.test(text.slice(from, from + PLACE_CHARS))) return -1
      const [bracket, end] = [text.indexOf('[', from), text.indexOf('>', from)]
      return bracket >= 0 && bracket < end ? behind(text, '>', behind(text, ']', bracket)) : behind(text, '>', from)
    },
  },
]

function behind(text: string, sign: string, from: number): number {
  const at = from < 0 ? -1 : text.indexOf(sign, from)
  return at < 0 ? -1 : at + sign.length
}

/**
 * Checks that a drawing is only a drawing: no script, no events, nothing from another place, no entities of its own.
 * @returns The attributes of its root.
 * @throws {FormatError} Naming what it has.
 * @throws {LimitError} If it is larger than is taken, or would take longer to draw (`cost.ts`).
 */
export function checkSvg(bytes: Uint8Array): Record<string, string> {
  if (bytes.length > SVG_MAX_BYTES) throw new LimitError('the size of an SVG in bytes', bytes.length, SVG_MAX_BYTES)
  const parser = new SaxesParser()
  const cost = new SvgCost()
  const refuse = (what: string) => new FormatError(SVG, parser.position, `a plain drawing, found ${what}`)
  let [elements, depth, isStyle] = [0, 0, false]
  let root: Record<string, string> = {}
  parser.on('error', (cause) => {
    throw new FormatError(SVG, parser.position, 'well-formed XML', { cause })
  })
  parser.on('doctype', (text) => {
    if (text.includes('[')) throw refuse('entities or types of its own')
  })
  parser.on('processinginstruction', ({ target }) => {
    throw refuse(`an instruction (${target})`)
  })
  parser.on('opentag', (tag: SaxesTagPlain) => {
    const { name, attributes } = tag as { name: string; attributes: Record<string, string> }
    if (++elements > ELEMENTS_MAX) throw new LimitError('the number of elements', elements, ELEMENTS_MAX)
    if (++depth > NESTING_MAX) throw new LimitError('elements within elements', depth, NESTING_MAX)
    const local = name.replace(/^.*:/, '')
    if (elements === 1 && local !== 'svg') throw refuse(`a root called ${name}`)
    if (elements === 1) root = attributes
    cost.open(local, attributes)
    if (REFUSED.includes(local)) throw refuse(`an element ${name}`)
    isStyle = local === 'style'
    for (const [attribute, value] of Object.entries(attributes)) {
      if (/^on/i.test(attribute)) throw refuse(`an event (${attribute})`)
      if (NAMES_PLACE.test(attribute) && !value.trim().startsWith('#'))
        throw refuse(`an address outside of it (${attribute})`)
      if (fetches(value)) throw refuse(`an address outside of it (${attribute})`)
    }
  })
  const checkText = (text: string) => {
    if (!isStyle) return
    if (fetches(text)) throw refuse('an address outside of it (style)')
    cost.style(text)
  }
  parser.on('text', checkText)
  parser.on('cdata', checkText)
  parser.on('closetag', () => {
    depth--
    cost.close()
    isStyle = false
  })
  parser.write(fromUtf8OrLatin1(bytes)).close()
  if (elements === 0) throw new FormatError(SVG, undefined, 'an element svg')
  cost.check()
  return root
}
