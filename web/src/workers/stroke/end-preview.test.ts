import type { Rect } from '@satchel/core/raster/surface'
import type { Stroke } from '@satchel/core/stroke/stroke'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { EndPreview } from './end-preview.ts'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

const rect = (left: number, right: number): Rect => ({ left, top: 0, right, bottom: 10 })

/** A stroke that only tells what it was asked. */
function fakeStroke({ end, peeks = false, costMs = 0 }: { end: () => Rect; peeks?: boolean; costMs?: number }) {
  const asked: string[] = []
  const paint = (what: string, result: () => Rect | undefined) => () => {
    asked.push(what)
    vi.advanceTimersByTime(costMs)
    return result()
  }
  const stroke: Stroke = {
    add: paint('add', () => undefined),
    finish: paint('finish', end),
    compositeOnto: () => undefined,
    close: () => void asked.push('close'),
    isCutShort: false,
    workPx: 0,
    ...(peeks ? { peek: paint('peek', end) } : {}),
  }
  return { stroke, asked }
}

function preview(options: Parameters<typeof fakeStroke>[0]) {
  const growing = fakeStroke(options)
  const anew = fakeStroke(options)
  const shown: { stroke: 'growing' | 'anew'; area: Rect }[] = []
  const ending = new EndPreview({
    painting: growing.stroke,
    paint: () => anew.stroke,
    samples: [1, 2, 3],
    onPainted: (stroke, area) => void shown.push({ stroke: stroke === growing.stroke ? 'growing' : 'anew', area }),
  })
  return { ending, shown, growing: growing.asked, anew: anew.asked }
}

describe('the end of a stroke that is still drawn', () => {
  it('is drawn on trial where the stroke can, and nothing is painted anew', () => {
    const { ending, shown, growing, anew } = preview({ end: () => rect(40, 50), peeks: true })
    ending.paintSoon(rect(30, 40))
    vi.runAllTimers()
    expect(shown).toEqual([{ stroke: 'growing', area: rect(30, 50) }])
    expect([growing, anew]).toEqual([['peek'], []])
  })

  it('is painted anew where it cannot, and what was painted is given back', () => {
    const { ending, shown, growing, anew } = preview({ end: () => rect(40, 50) })
    ending.paintSoon(rect(30, 40))
    vi.runAllTimers()
    expect(shown).toEqual([{ stroke: 'anew', area: rect(30, 50) }])
    expect([growing, anew]).toEqual([[], ['add', 'finish', 'close']])
  })

  it('is painted over where it lay before: nothing of it stays behind', () => {
    const ends = [rect(40, 50), rect(70, 80)]
    const { ending, shown } = preview({ end: () => ends.shift() ?? rect(0, 0), peeks: true })
    ending.paintSoon(undefined)
    vi.runAllTimers()
    ending.paintSoon(rect(60, 62))
    vi.runAllTimers()
    expect(shown[1]?.area).toEqual(rect(40, 80))
    expect(ending.stop()).toEqual(rect(70, 80))
  })

  it('is painted once for many movements in one go', () => {
    const { ending, shown } = preview({ end: () => rect(40, 50), peeks: true })
    for (let i = 0; i < 9; i++) ending.paintSoon(rect(i, i + 1))
    vi.runAllTimers()
    expect(shown).toEqual([{ stroke: 'growing', area: rect(0, 50) }])
  })

  it('rests as long as it took, so that the pen is never kept waiting', () => {
    const { ending, shown } = preview({ end: () => rect(40, 50), peeks: true, costMs: 30 })
    ending.paintSoon(undefined)
    vi.advanceTimersByTime(1)
    expect(shown.length).toBe(1)
    ending.paintSoon(undefined)
    vi.advanceTimersByTime(20)
    expect(shown.length).toBe(1)
    vi.advanceTimersByTime(20)
    expect(shown.length).toBe(2)
  })

  it('is painted no more after it has stopped; what changed meanwhile is told', () => {
    const { ending, shown } = preview({ end: () => rect(40, 50), peeks: true })
    ending.paintSoon(rect(10, 20))
    expect(ending.stop()).toEqual(rect(10, 20))
    vi.runAllTimers()
    expect(shown).toEqual([])
  })
})
