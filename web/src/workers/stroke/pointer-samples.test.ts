import { expect, it } from 'vitest'
import { PointerSamples } from './pointer-samples.ts'

const at = (x: number, ms: number, more = {}) => ({
  clientX: x,
  clientY: 0,
  pressure: 0.3,
  tiltX: 10,
  tiltY: -5,
  timeStamp: ms,
  pointerType: 'pen',
  ...more,
})
const same = (x: number, y: number) => ({ x, y })
const pressures = (samples: Float64Array) =>
  Array.from({ length: samples.length / 6 }, (_, i) => samples[i * 6 + 2] ?? 0)

it('passes on what a pen says, at its place on the canvas', () => {
  const samples = new PointerSamples('even').take([at(10, 5)], (x, y) => ({ x: x * 2, y: y + 1 }))
  expect([...samples]).toEqual([20, 1, 0.3, 10, -5, 5])
})

it('gives a mouse even pressure, or less the faster it goes', () => {
  const path = [0, 2, 4, 6, 8, 10, 60, 120, 180, 240, 300].map((x, i) => at(x, i * 8, { pointerType: 'mouse' }))
  expect(new Set(pressures(new PointerSamples('even').take(path, same)))).toEqual(new Set([0.7]))
  const bySpeed = pressures(new PointerSamples('speed').take(path, same))
  expect(bySpeed[5]).toBeGreaterThan(bySpeed[0] ?? 1)
  expect(bySpeed.at(-1)).toBeLessThan((bySpeed[5] ?? 0) / 2)
  for (const pressure of bySpeed) expect(pressure > 0 && pressure <= 1).toBe(true)
})
