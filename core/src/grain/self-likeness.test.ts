import fc from 'fast-check'
import { expect, test } from 'vitest'
import { likenessAt, likenessByLag } from './self-likeness.ts'

/** Lines of one length, of bytes as pictures have them. */
const anyLines = fc.tuple(fc.integer({ min: 1, max: 90 }), fc.integer({ min: 1, max: 9 })).chain(([length, lines]) =>
  fc.array(
    fc
      .array(fc.integer({ min: 0, max: 255 }), { minLength: length, maxLength: length })
      .map((line) => Float32Array.from(line)),
    { minLength: lines, maxLength: lines },
  ),
)

test('all lags at once come to what each comes to by itself', () => {
  fc.assert(
    fc.property(anyLines, (lines) => {
      const most = Math.floor((lines[0]?.length ?? 0) / 2) + 1
      const all = likenessByLag(lines, most)
      expect(all).toHaveLength(most)
      for (let lag = 1; lag < most; lag++) expect(all[lag]).toBeCloseTo(likenessAt(lines, lag), 9)
    }),
  )
})

test('a line that repeats is wholly like itself at its pitch, and unlike itself between', () => {
  const line = Float32Array.from({ length: 120 }, (_, k) => 128 + 100 * Math.cos((k * 2 * Math.PI) / 12))
  const all = likenessByLag([line, line, line], 61)
  for (const lag of [12, 24, 36, 48, 60]) expect(all[lag]).toBeCloseTo(1, 6)
  for (const lag of [6, 18, 30, 42, 54]) expect(all[lag]).toBeCloseTo(-1, 6)
})

test('even lines are like nothing, not even themselves', () => {
  expect([...likenessByLag([new Float32Array(20).fill(90)], 11)]).toEqual(Array(11).fill(0))
})
