import { expect, it } from 'vitest'
import { SAMPLE_STRIDE } from './samples.ts'
import { Steady } from './steady.ts'

const shaky = Float64Array.from(Array.from({ length: 60 }, (_, i) => [i * 5, (i % 2) * 12, 0.5, 0, 0, i * 8]).flat())
const ys = (samples: Float64Array) =>
  Array.from({ length: samples.length / SAMPLE_STRIDE }, (_, i) => samples[i * SAMPLE_STRIDE + 1])
const roughness = (values: number[]) => values.slice(1).reduce((sum, y, i) => sum + Math.abs(y - values[i]), 0)

it('leaves a hand as it is at 0, and smooths it the more the higher the amount', () => {
  expect(new Steady(0).add(shaky)).toEqual(shaky)
  const [some, much] = [0.5, 0.95].map((amount) => roughness(ys(new Steady(amount).add(shaky))))
  expect(some).toBeLessThan(roughness(ys(shaky)))
  expect(much).toBeLessThan(some / 3)
})

it('gives the same in pieces, and ends where the hand ended', () => {
  const [whole, pieces] = [new Steady(0.8), new Steady(0.8)]
  const all = whole.add(shaky)
  const cut = 20 * SAMPLE_STRIDE
  expect([...pieces.add(shaky.subarray(0, cut)), ...pieces.add(shaky.subarray(cut))]).toEqual([...all])
  expect([...whole.finish()]).toEqual([...shaky.subarray(-SAMPLE_STRIDE)])
  expect(new Steady(0.8).finish().length).toBe(0)
})
