import fc from 'fast-check'
import { expect, it } from 'vitest'
import { checkSvg } from '../formats/svg/check.ts'
import { toUtf8 } from '../formats/text.ts'
import { drawFolders } from './folder-drawing.ts'

it('what goes where is drawn folder by folder, on both sides', () => {
  const svg = drawFolders('Knot & Co', ['Sets/Reeds/a.png', 'Sets/Reeds/a.set', 'Grains/g.png', 'loose.png'])
  checkSvg(toUtf8(svg))
  expect(svg.match(/>Reeds</g)).toHaveLength(2)
  expect(svg.match(/Reeds<tspan fill="#667"> \(2\)/g)).toHaveLength(2)
  // one that holds only folders has no count
  expect(svg).toContain('>Sets</text>')
  expect(svg).toContain('The brush folder of Knot &amp; Co')
  expect(svg.match(/files in no folder/g)).toHaveLength(2)
})

it('many folders are told by their number, and any name makes a whole drawing', () => {
  const many = Array.from({ length: 30 }, (_, n) => `Set ${n}/a.png`)
  expect(drawFolders('Knot', many)).toContain('and 21 more')
  const word = fc.string({ unit: 'grapheme', maxLength: 40 })
  fc.assert(
    fc.property(word, fc.array(fc.array(word, { minLength: 1, maxLength: 4 })), (app, parts) => {
      const paths = parts.map((each) => each.join('/'))
      expect(() => checkSvg(toUtf8(drawFolders(app, paths)))).not.toThrow()
    }),
  )
})
