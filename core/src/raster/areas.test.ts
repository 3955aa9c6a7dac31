import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { labelAreas } from './areas.ts'

const picture = (...rows: string[]) => ({
  width: rows[0].length,
  height: rows.length,
  isSet: Uint8Array.from(rows.join(''), (mark) => (mark === '#' ? 1 : 0)),
})

const anyMask = fc
  .record({ width: fc.integer({ min: 1, max: 9 }), height: fc.integer({ min: 1, max: 9 }) })
  .chain(({ width, height }) =>
    fc
      .array(fc.constantFrom(0, 1), { minLength: width * height, maxLength: width * height })
      .map((bits) => ({ width, height, isSet: Uint8Array.from(bits) })),
  )

/** The areas by filling each from its first pixel: slow, and plain. */
function flood({ isSet, width, height }: { isSet: Uint8Array; width: number; height: number }, diagonal: boolean) {
  const labels = new Int32Array(isSet.length)
  let count = 0
  for (let from = 0; from < isSet.length; from++) {
    if (!isSet[from] || labels[from]) continue
    count++
    const open = [from]
    labels[from] = count
    for (let i = open.pop(); i !== undefined; i = open.pop()) {
      const [x, y] = [i % width, Math.floor(i / width)]
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          if (!diagonal && dx !== 0 && dy !== 0) continue
          const [nx, ny] = [x + dx, y + dy]
          const next = ny * width + nx
          if (nx < 0 || ny < 0 || nx >= width || ny >= height || !isSet[next] || labels[next]) continue
          labels[next] = count
          open.push(next)
        }
    }
  }
  return labels
}

describe('labelAreas', () => {
  it('joins what meets only further down', () => {
    const { isSet, width, height } = picture('#.#.#', '#.#.#', '###.#', '....#')
    const { sizes } = labelAreas(isSet, width, height)
    expect([...sizes]).toEqual([9, 7, 4])
  })

  it('tells corners apart when asked', () => {
    const { isSet, width, height } = picture('#.', '.#')
    expect(labelAreas(isSet, width, height).sizes.length - 1).toBe(1)
    expect(labelAreas(isSet, width, height, { diagonal: false }).sizes.length - 1).toBe(2)
  })

  it('finds the areas that filling finds, in the same order', () => {
    fc.assert(
      fc.property(anyMask, fc.boolean(), (mask, diagonal) => {
        const { labels, sizes } = labelAreas(mask.isSet, mask.width, mask.height, { diagonal })
        expect([...labels]).toEqual([...flood(mask, diagonal)])
        expect(sizes.reduce((a, b) => a + b, 0)).toBe(mask.isSet.length)
        for (const [label, size] of sizes.entries()) expect(labels.filter((each) => each === label).length).toBe(size)
      }),
    )
  })
})
