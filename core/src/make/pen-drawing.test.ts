import { checkSvg } from '@satchel/core/formats/svg/check'
import { expect, it } from 'vitest'
import { toPenSvg } from './pen-drawing.ts'

it('is a plain drawing whose lines are as wide as the pen was pressed', () => {
  const points = [
    { x: 0.1, y: 0.2, pressure: 0.5 },
    { x: 0.3, y: 0.25, pressure: 1 },
  ]
  const svg = toPenSvg([{ points, width: 0.04 }])
  expect(() => checkSvg(new TextEncoder().encode(svg))).not.toThrow()
  expect(svg).toContain('<path d="M100 200L100 200" stroke-width="20"/><path d="M100 200L300 250" stroke-width="40"/>')
})
