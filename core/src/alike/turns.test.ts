import { describe, expect, it } from 'vitest'
import { describeDifferences } from './differences.ts'
import type { Mark } from './mark.ts'
import { decodeMark, encodeMark, KEPT_SIDE } from './mark-bytes.ts'
import { layFitted, NO_FIT, registerGrids } from './register.ts'
import { TURNS, turnedPlaces } from './turns.ts'

describe('the eight turns', () => {
  it('lay a square on itself, each in a way of its own; a quarter goes clockwise', () => {
    const seen = TURNS.map((turn) => [...turnedPlaces(turn, 3)].join(' '))
    expect(new Set(seen).size).toBe(8)
    for (const places of seen) expect(new Set(places.split(' ')).size).toBe(9)
    const [, quarter, , , mirrored] = TURNS
    const letters = [...'abcdefghi']
    const laid = (turn: (typeof TURNS)[number]) => [...turnedPlaces(turn, 3)].map((i) => letters[i]).join('')
    expect(laid(quarter)).toBe('gdahebifc')
    expect(laid(mirrored)).toBe('cbafedihg')
  })
})

describe('laying one grid over another', () => {
  const side = 48
  const blob = (cx: number, cy: number, rx: number, ry: number) =>
    Float32Array.from({ length: side * side }, (_, i) => {
      const [x, y] = [(i % side) + 0.5 - cx, Math.floor(i / side) + 0.5 - cy]
      return Math.exp(-((x / rx) ** 2 + (y / ry) ** 2)) + 0.5 * Math.exp(-(((x - 6) / 3) ** 2 + ((y + 5) / 4) ** 2))
    })

  it('finds a move and a stretch', () => {
    const fit = registerGrids(blob(24, 24, 9, 6), blob(25.5, 23, 9, 6), side)
    expect(fit.moveX * side).toBeCloseTo(1.5, 1)
    expect(fit.moveY * side).toBeCloseTo(-1, 1)
    expect(fit.stretchX).toBeCloseTo(0, 1)
  })

  it('leaves a grid as it is where nothing is to be done', () => {
    const grid = blob(24, 24, 9, 6)
    expect([...layFitted(grid, side, NO_FIT)]).toEqual([...grid])
  })
})

describe('a kept mark', () => {
  const area = KEPT_SIDE ** 2
  const layer = (value: (i: number) => number) => Float32Array.from({ length: area }, (_, i) => value(i))
  const mark: Mark = {
    side: KEPT_SIDE,
    widthPx: 40.5,
    heightPx: 30,
    canvasWidthPx: 64,
    canvasHeightPx: 48,
    faintest: 0.1,
    strongest: 0.9,
    tone: undefined,
    shape: layer((i) => i / area),
    colour: { L: layer((i) => 1 - i / area), a: layer(() => -0.2), b: layer(() => 0.3) },
  }

  it('comes back as it was, within a step of its bytes', () => {
    const { shape, colour, tone, ...sizes } = decodeMark(encodeMark(mark))
    expect(sizes).toMatchObject({ widthPx: 40.5, heightPx: 30, canvasWidthPx: 64, canvasHeightPx: 48 })
    expect(sizes.strongest).toBeCloseTo(0.9, 5)
    for (const [own, was] of [[shape, mark.shape], [colour?.L, mark.colour?.L], [colour?.a, mark.colour?.a]] as const) // biome-ignore format: one row
      expect(Math.max(...(own ?? []).map((value, i) => Math.abs(value - (was?.[i] ?? 9))))).toBeLessThan(1 / 255)
    expect(tone?.length).toBe(area)
    const grey = decodeMark(encodeMark({ ...mark, colour: undefined }))
    expect([grey.colour, grey.tone]).toEqual([undefined, undefined])
  })

  it('of another length is refused', () => {
    expect(() => decodeMark(new Uint8Array(99))).toThrow(RangeError)
  })
})

describe('what is said of differences', () => {
  it('calls marks the same as long as nothing of it is seen', () => {
    expect(describeDifferences([])).toBe('Same mark')
    expect(describeDifferences([{ kind: 'smaller', amount: [60, 80] }])).toBe('Same mark, 60 px instead of 80')
    expect(describeDifferences([{ kind: 'turned', amount: [1, 0] }, { kind: 'colour' }])).toBe(
      'Same shape, turned by a quarter, other colour',
    )
  })
})
