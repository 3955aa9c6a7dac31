import * as v from 'valibot'
import { expect, it } from 'vitest'
import { FOUND_PARTS } from '../brush/parts.ts'
import { BrushFilterText, KeptFilter } from './brush-filter.ts'
import { BRUSH_IS_NAMES } from './brush-filter-words.ts'

const read = (filter: Record<string, string>) => v.safeParse(BrushFilterText, filter)

it('reads what stands in an address, each word of "is" once and in order', () => {
  expect(read({ q: 'soft', sizeFrom: '20', is: 'unused,grain,grain', fitAt: 'dunlin', fitTo: '80' }).output).toEqual({
    ...{ q: 'soft', sizeFrom: 20, is: ['grain', 'unused'], fitAt: 'dunlin', fitTo: 80 },
  })
  for (const wrong of [{ is: 'large' }, { is: '' }, { fitFrom: '101' }, { sizeFrom: 'x' }, { sourceId: '7' }] as Record<
    string,
    string
  >[])
    expect(read(wrong).success).toBe(false)
  expect(read({ is: BRUSH_IS_NAMES.join(',') }).success).toBe(true)
})

it('keeps searches alone: no set, not the bin, nothing unknown, and not nothing', () => {
  const kept = (filter: Record<string, string>) => v.is(KeptFilter, filter)
  expect(kept({ q: 'soft', is: 'grain' })).toBe(true)
  for (const wrong of [
    {},
    { bin: '1' },
    { loose: '1', q: 'x' },
    { setId: crypto.randomUUID() },
    { colour: 'red' },
    { q: 'x'.repeat(201) },
  ] as Record<string, string>[])
    expect(kept(wrong)).toBe(false)
})

it('takes all parts of the recipe at once, also in a search that is kept', () => {
  const uses = FOUND_PARTS.join()
  expect(v.parse(BrushFilterText, { uses }).uses).toEqual([...FOUND_PARTS])
  expect(v.is(KeptFilter, { uses })).toBe(true)
  expect(v.is(BrushFilterText, { uses: 'mark.sizePx' })).toBe(false)
})
