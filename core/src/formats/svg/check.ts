import { SaxesParser, type SaxesTagPlain } from 'saxes'
import { FormatError, LimitError } from '../../errors.ts'
import { fromUtf8OrLatin1 } from '../text.ts'

/** What the format is called in messages. */
export const SVG = 'SVG'
/** Bytes of a drawing. */
export const SVG_MAX_BYTES = 5 * 1024 * 1024
/** Elements of a drawing: more take longer to draw than anybody waits. */
const ELEMENTS_MAX = 100_000
const NESTING_MAX = 256

/** Elements that run something, bring in what is not a drawing, or move. */
const REFUSED = ['script', 'foreignObject', 'iframe', 'audio', 'video', 'handler', 'listener', 'image', 'animate', 'animateMotion', 'animateTransform', 'set'] // biome-ignore format: one list
/** Attributes that name another place. */
const NAMES_PLACE = /^(.*:)?(href|src)$/
/** In styles: what is fetched from elsewhere. A place inside the drawing begins with a hash. */
const FETCHES = /@import|url\(\s*(?!['"]?#)/i

/** Whether a file begins as an SVG does: perhaps with a declaration and comments, then its root. */
export function looksLikeSvg(head: Uint8Array): boolean {
  const text = fromUtf8OrLatin1(head.subarray(0, 2048))
    .replace(/^\ufeff/, '')
    .trimStart()
  return (
    text.startsWith('<') &&
    /^(<\?xml[^>]*>\s*)?(<!--[\s\S]*?-->\s*|<!DOCTYPE\s+svg[^>[]*(\[[^\]]*\]\s*)?>\s*)*<svg[\s>]/.test(text)
  )
}

/**
 * Checks that a drawing is only a drawing: no script, no events, nothing from another place, no entities of its own.
 * @returns The attributes of its root.
 * @throws {FormatError} Naming what it has. @throws {LimitError} If it is larger than is taken.
 */
export function checkSvg(bytes: Uint8Array): Record<string, string> {
  if (bytes.length > SVG_MAX_BYTES) throw new LimitError('the size of an SVG in bytes', bytes.length, SVG_MAX_BYTES)
  const parser = new SaxesParser()
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
    if (REFUSED.includes(local)) throw refuse(`an element ${name}`)
    isStyle = local === 'style'
    for (const [attribute, value] of Object.entries(attributes)) {
      if (/^on/i.test(attribute)) throw refuse(`an event (${attribute})`)
      if (NAMES_PLACE.test(attribute) && !value.trim().startsWith('#'))
        throw refuse(`an address outside of it (${attribute})`)
      if (FETCHES.test(value)) throw refuse(`an address outside of it (${attribute})`)
    }
  })
  const checkText = (text: string) => {
    if (isStyle && FETCHES.test(text)) throw refuse('an address outside of it (style)')
  }
  parser.on('text', checkText)
  parser.on('cdata', checkText)
  parser.on('closetag', () => {
    depth--
    isStyle = false
  })
  parser.write(fromUtf8OrLatin1(bytes)).close()
  if (elements === 0) throw new FormatError(SVG, undefined, 'an element svg')
  return root
}
