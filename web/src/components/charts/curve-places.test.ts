import { expect, it } from 'vitest'
import { CURVE_MARGIN, CURVE_Y_AXIS_PX, nearestAcross, placesAcross } from './curve-places.ts'

it('lays numbers out by their ratios, from the axis to the right end', () => {
  const places = placesAcross([10, 100, 1000], 300)
  const [left, right] = [CURVE_MARGIN.left + CURVE_Y_AXIS_PX, 300 - CURVE_MARGIN.right]
  expect(places[0]).toBeCloseTo(left)
  expect(places[1]).toBeCloseTo((left + right) / 2)
  expect(places[2]).toBeCloseTo(right)
})

it('finds the nearest one, also beyond the ends, and where all are the same', () => {
  const values = [400, 120, 40]
  const places = placesAcross(values, 300)
  for (const [i, place] of places.entries()) expect(nearestAcross(values, 300, place + 2)).toBe(i)
  expect(nearestAcross(values, 300, 9999)).toBe(0)
  expect(nearestAcross(values, 300, -50)).toBe(2)
  expect(nearestAcross([7, 7], 300, 150)).toBe(0)
})
