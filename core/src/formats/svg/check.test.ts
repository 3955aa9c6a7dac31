import { describe, expect, it } from 'vitest'
import { FormatError, LimitError } from '../../errors.ts'
import { toUtf8 } from '../text.ts'
import { checkSvg, looksLikeSvg, SVG_MAX_BYTES } from './check.ts'

const svg = (inside: string, attributes = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 9 9"${attributes}>${inside}</svg>`
const check = (text: string) => checkSvg(toUtf8(text))

describe('an SVG', () => {
  it.each([
    svg('<path d="M0 0h9v9z"/>'),
    `<?xml version="1.0"?>\n<!-- drawn by hand -->\n<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "svg11.dtd">\n${svg('<g><circle r="3"/></g>')}`,
    svg(
      '<defs><path id="a" d="M0 0"/></defs><use href="#a"/><use xlink:href="#a" style="fill:url(#b)"/><style>.a{fill:url("#b")}</style>',
    ),
  ])('that is only a drawing is taken', (text) => {
    expect(looksLikeSvg(toUtf8(text))).toBe(true)
    expect(() => check(text)).not.toThrow()
  })

  it.each([
    ['a script', svg('<script>1</script>'), 'an element script'],
    ['an event', svg('<path onload="x()" d=""/>'), 'an event (onload)'],
    ['an address outside', svg('<use href="https://elsewhere.example/a.svg#b"/>'), 'an address outside of it (href)'],
    ['a file of this computer', svg('<use xlink:href="file:///etc/passwd"/>'), 'an address outside of it (xlink:href)'],
    ['a picture', svg('<image href="#a"/>'), 'an element image'],
    [
      'a style from elsewhere',
      svg('<path style="fill:url( http://elsewhere.example)" d=""/>'),
      'an address outside of it (style)',
    ],
    ['an import in its style', svg('<style><![CDATA[@import "a.css";]]></style>'), 'an address outside of it (style)'],
    ['entities', `<!DOCTYPE svg [<!ENTITY a "b">]>${svg('&a;')}`, 'entities or types of its own'],
    ['an instruction', `<?xml-stylesheet href="a.css"?>${svg('')}`, 'an instruction'],
    ['an unknown entity', svg('&lol;'), 'well-formed XML'],
    ['no end', svg('<g>').slice(0, 150), 'well-formed XML'],
    ['another root', '<html/>', 'a root called html'],
    ['movement', svg('<animate/>'), 'an element animate'],
  ])('with %s is refused', (_what, text, sentence) => {
    expect(() => check(text)).toThrow(FormatError)
    expect(() => check(text)).toThrow(sentence)
  })

  it.each([
    ['a million elements', svg('<g/>'.repeat(100_001))],
    ['elements in elements in elements', svg('<g>'.repeat(300) + '</g>'.repeat(300))],
    ['more bytes than are taken', svg(' '.repeat(SVG_MAX_BYTES))],
  ])('with %s is refused', (_what, text) => {
    expect(() => check(text)).toThrow(LimitError)
  })

  it('is told from other text', () => {
    expect(looksLikeSvg(toUtf8('<html><svg></svg></html>'))).toBe(false)
    expect(looksLikeSvg(toUtf8('svg'))).toBe(false)
  })
})
