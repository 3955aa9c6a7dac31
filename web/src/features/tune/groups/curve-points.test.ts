import type { Curve } from '@satchel/core/brush/recipe'
import { describe, expect, it } from 'vitest'
import { addPoint, curveRange, movePoint, removePoint } from './curve-points.ts'

const rise: Curve = [[0, 0.1], [0.5, 0.5], [1, 1]] // biome-ignore format: points

describe('points of a curve', () => {
  it('move freely between their neighbours, never past them', () => {
    expect(movePoint(rise, 1, [0.3, 0.9])[1]).toEqual([0.3, 0.9])
    expect(movePoint(rise, 1, [2, -1])[1]).toEqual([0.98, 0])
    expect(movePoint(rise, 1, [-1, 2])[1]).toEqual([0.02, 1])
  })

  it('at the ends move up and down only', () => {
    expect(movePoint(rise, 0, [0.4, 0.7])[0]).toEqual([0, 0.7])
    expect(movePoint(rise, 2, [0.4, 0.7])[2]).toEqual([1, 0.7])
  })

  it('are added where there is room, and taken away but for the ends', () => {
    expect(addPoint(rise, [0.25, 0.2])).toEqual({ points: [[0, 0.1], [0.25, 0.2], [0.5, 0.5], [1, 1]], at: 1 }) // biome-ignore format: points
    expect(addPoint(rise, [0.501, 0.2]).points).toBe(rise)
    expect(removePoint(rise, 1)).toEqual([[0, 0.1], [1, 1]]) // biome-ignore format: points
    expect(removePoint(rise, 0)).toBe(rise)
    let full: Curve = [[0, 0], [1, 1]] // biome-ignore format: points
    for (let i = 1; i < 20; i++) full = addPoint(full, [i / 20, 0.5]).points
    expect(full.length).toBe(12)
  })

  it('tell the range of what comes out', () => {
    expect(curveRange([[0, 0.8], [0.5, 0.2], [1, 0.4]])).toEqual({ from: 0.2, to: 0.8 }) // biome-ignore format: points
  })
})
