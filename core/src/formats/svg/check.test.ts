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

  it('is told from other text soon, however it is made to look like one', () => {
    const heads = ['<!---->', '<!DOCTYPE svg>', '<!DOCTYPE svg [ ]>', '<?xml ?>', '<!--', ' \n', '<!DOCTYPE svg [']
    for (const head of heads) {
      const text = `${head.repeat(8192 / head.length)}<x`
      const before = performance.now()
      expect(looksLikeSvg(toUtf8(text))).toBe(false)
      // a pattern that tried every way to part them took longer than anybody lives
      expect(performance.now() - before).toBeLessThan(1000)
    }
    expect(looksLikeSvg(toUtf8(`${'<!-- a -->'.repeat(40)}<svg>`))).toBe(true)
    expect(looksLikeSvg(toUtf8('<!DOCTYPE html><svg>'))).toBe(false)
    expect(looksLikeSvg(toUtf8('<svgx>'))).toBe(false)
  })

  it('may have spaces before a place of its own', () => {
    expect(() => check(svg('<path style="fill:url(  #b)" d="M0 0"/>'))).not.toThrow()
    expect(() => check(svg(`<path style="fill:${'url('.repeat(50_000)}" d=""/>`))).toThrow('an address outside')
  })
})

describe('what a drawing would cost to draw', () => {
  const blurs = (count: number) => `<filter id="f">${'<feGaussianBlur stdDeviation="9"/>'.repeat(count)}</filter>`
  const zigzag = (corners: number, high: number) =>
    Array.from({ length: corners }, (_, i) => `L${i % 9} ${i % 2 ? high : 0}`).join('')
  /** Groups that each use the one before ten times. */
  const folded = (deep: number, what = '<path d="M0 0h9v9z"/>') =>
    `<defs><g id="a0">${what}</g>${Array.from({ length: deep }, (_, i) => `<g id="a${i + 1}">${`<use href="#a${i}"/>`.repeat(10)}</g>`).join('')}</defs><use href="#a${deep}"/>`

  // biome-ignore format: one row a way
  it.each([
    ['2,000 parts of a filter over all of it', `${blurs(2000)}<rect width="9" height="9" filter="url(#f)"/>`, 'filters'],
    ['a filter by a rule of its style', `<style>.s{filter:url(#f)}</style>${blurs(60)}<rect class="s" width="9" height="9"/>`, 'filters'],
    ['a filter on a group', `${blurs(60)}<g filter="url(#f)"><rect width="9" height="1"/><rect y="8" width="9" height="1"/></g>`, 'filters'],
    ['a kernel of a filter as large as there is', '<filter id="f"><feConvolveMatrix order="900"/></filter><rect width="9" height="9" style="filter:url(#f)"/>', 'filters'],
    ['a line up and down 60,000 times', `<path d="M0 0${zigzag(60_000, 9)}"/>`, 'lines'],
    ['the same made large by a transform', `<g transform="scale(100) matrix(10 0 0 10 0 0)"><path d="M0 0${zigzag(60_000, 0.009)}"/></g>`, 'lines'],
    ['300,000 corners', `<path d="M0 0${zigzag(300_000, 0.01)}"/>`, 'corners'],
    ['dashes that nobody sees', '<path d="M0 0L9 9" stroke-dasharray="0.0000001" transform="scale(9)"/>'.repeat(20), 'lines'],
    ['uses of uses of uses', folded(9), 'elements'],
    ['a style of rules for everything', `<style>${'*{fill:url(#a)}'.repeat(30_000)}</style>`, 'styles'],
    ['many rules for many elements', `<style>${Array.from({ length: 2000 }, (_, i) => `.s{fill:url(#a${i})}`).join('')}</style>${'<g class="s"/>'.repeat(2000)}`, 'styles'],
    ['lines that are used again and again', folded(3, `<path d="M0 0${zigzag(2000, 9)}"/>`), 'lines'],
    ['a marker at every corner', `<marker id="m">${'<rect width="1" height="1"/>'.repeat(20)}</marker><path marker-mid="url(#m)" d="M0 0${zigzag(20_000, 1)}"/>`, 'elements'],
  ])('is refused before: %s', (_what, inside, sentence) => {
    expect(() => check(svg(inside))).toThrow(LimitError)
    expect(() => check(svg(inside))).toThrow(sentence)
  })

  it.each([
    ['a blur over all of it', `${blurs(1)}<rect width="9" height="9" filter="url(#f)"/>`],
    ['many blurs of small things', `${blurs(1)}${'<rect width=".2" height=".2" filter="url(#f)"/>'.repeat(200)}`],
    ['a filter that nothing uses', blurs(2000)],
    ['a traced picture', `<path d="M0 0${zigzag(100_000, 0.1)}"/>`],
    ['what uses itself', '<g id="a"><use href="#a"/><use href="#b"/></g>'],
    ['a dashed line', '<path d="M0 0L9 9" stroke-dasharray="0.1 0.2"/>'],
  ])('lets be drawn: %s', (_what, inside) => {
    expect(() => check(svg(inside))).not.toThrow()
  })
})
