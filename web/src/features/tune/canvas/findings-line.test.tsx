// @vitest-environment jsdom
import { cleanup, render, screen } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import type { Findings } from '../../../workers/stroke/protocol.ts'
import { FindingsLine } from './findings-line.tsx'

afterEach(cleanup)

const well: Findings = {
  cutShort: false,
  squeezes: [],
  gaugeScale: 1,
  tone: undefined,
  joinBreak: undefined,
  strip: undefined,
}
const said = (findings: Findings | undefined) => {
  cleanup()
  render(<FindingsLine findings={findings} />)
  return screen.queryByRole('status')?.textContent
}

it('says nothing where all is well', () => {
  expect([said(undefined), said(well)]).toEqual([undefined, undefined])
})

it('tells the scale of the gauge, strokes cut short, and how many bends squeeze a strip', () => {
  expect(said({ ...well, gaugeScale: 0.406 })).toBe(
    'Gauge strokes at 41 % of their size, to fit; what you draw is full size.',
  )
  expect(said({ ...well, gaugeScale: 0.0349 })).toContain('at 3.5 %')
  expect(said({ ...well, cutShort: true })).toMatch(/^A stroke is cut short/)
  const squeeze = { x: 1, y: 2, fromPx: 3, share: 0.5 } as Findings['squeezes'][number]
  expect(said({ ...well, squeezes: [squeeze] })).toContain('in one bend, at worst by 50 %')
  expect(said({ ...well, squeezes: [squeeze, { ...squeeze, share: 0.62 }] })).toContain('in 2 bends, at worst by 62 %')
})
