import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../../brush/recipe.ts'
import { createHandFactors } from './hand-factors.ts'

const LINE: [number, number][] = [[0, 0], [1, 1]] // biome-ignore format: points
const factorsOf = (change: (hand: Recipe['hand']) => void) => {
  const recipe = defaultRecipe()
  change(recipe.hand)
  return createHandFactors(recipe)
}
const at = ({ pressure = 1, tiltX = 0, tiltY = 0, ms = 0 }) => Float64Array.of(0, 0, pressure, tiltX, tiltY, ms)

describe('what the hand does', () => {
  const tilt = factorsOf((hand) => {
    hand.tilt.size = LINE
  })

  it.each([
    [{ tiltX: 45 }, 0.5],
    [{ tiltX: -45 }, 0.5],
    [{ tiltY: 45 }, 0.5],
    [{ tiltY: -18 }, 0.2],
    [{ tiltX: 30, tiltY: -60 }, 60 / 90], // the axis that leans more counts
    [{ tiltX: -60, tiltY: 30 }, 60 / 90],
    [{ tiltX: 90, tiltY: 90 }, 1],
    [{}, 0],
  ])('leans by the axis that leans more, to whichever side: %j', (pose, factor) => {
    expect(tilt.factor('size', at(pose), 0)).toBeCloseTo(factor, 9)
  })

  it('multiplies what pressure, tilt and speed ask for', () => {
    const all = factorsOf((hand) => {
      hand.pressure.flow = LINE
      hand.tilt.flow = LINE
      hand.speed.flow = LINE
    })
    expect(all.factor('flow', at({ pressure: 0.5, tiltX: 45 }), 0.2)).toBeCloseTo(0.05, 9)
    expect(all.factor('size', at({ pressure: 0.5 }), 0.2)).toBe(1)
  })

  it('counts speed up to 4 px a ms; where no time passes there is none', () => {
    expect(tilt.speedOf(at({ ms: 10 }), at({ ms: 20 }), 20)).toBeCloseTo(0.5, 9)
    expect(tilt.speedOf(at({ ms: 10 }), at({ ms: 20 }), 400)).toBe(1)
    expect(tilt.speedOf(at({ ms: 10 }), at({ ms: 10 }), 20)).toBe(0)
    expect(tilt.speedOf(at({ ms: 20 }), at({ ms: 10 }), 20)).toBe(0)
  })
})
