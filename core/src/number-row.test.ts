import fc from 'fast-check'
import * as v from 'valibot'
import { expect, it } from 'vitest'
import { RECIPE_NUMBERS } from './brush/recipe-numbers.ts'
import { EDIT_NUMBERS } from './frames/edit-frame.ts'
import { PHOTO_NUMBERS } from './grain/from-photo.ts'
import { RULE_NUMBERS } from './grain/rules.ts'
import { ORNAMENT_NUMBERS } from './make/ornament/repeat-around.ts'
import { OBJECT_NUMBERS } from './make/sheet/find-objects.ts'
import { STEP_KINDS } from './make/step-kinds.ts'
import { MODEL_NUMBERS, VIEW_NUMBERS } from './make/view-numbers.ts'
import { fromTold, type NumberRow, numberIn, shareRow, toTold, usualOf } from './number-row.ts'

const TABLES: Record<string, Record<string, NumberRow & { usual?: number }>> = {
  recipe: RECIPE_NUMBERS,
  ornament: ORNAMENT_NUMBERS,
  objects: OBJECT_NUMBERS,
  view: VIEW_NUMBERS,
  model: MODEL_NUMBERS,
  frame: EDIT_NUMBERS,
  rule: RULE_NUMBERS,
  photo: PHOTO_NUMBERS,
}
const ROWS = Object.entries(TABLES).flatMap(([table, rows]) =>
  Object.entries(rows).map(([name, row]) => [`${table} ${name}`, row] as const),
)

it.each(ROWS)('%s: its control goes no further than what may be stored, and what is usual lies on it', (_name, row) => {
  const { from, to, least = from, most = to, usual = from } = row
  expect(from).toBeLessThan(to)
  expect(least).toBeLessThanOrEqual(from)
  expect(most).toBeGreaterThanOrEqual(to)
  expect(usual >= from && usual <= to).toBe(true)
})

it.each(ROWS)('%s: what is set is told as it was set, and whatever is told stays within its bounds', (_name, row) => {
  const tell = (share: number) => toTold(row.from + share * (row.to - row.from), row)
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: -1e6, max: 1e6, noNaN: true }),
      (share, wild) => {
        const told = tell(share)
        const step = row.whole ? 0.5 : 1e-3
        expect(Math.abs(toTold(fromTold(told, row), row) - told)).toBeLessThanOrEqual(step)
        expect(v.safeParse(numberIn(row), fromTold(wild, row)).success).toBe(true)
      },
    ),
  )
})

it('tells shares in hundredths, and takes whole numbers where there are no others', () => {
  expect(toTold(0.1274, shareRow('Paint'))).toBe(12.7)
  expect(fromTold(13, shareRow('Paint'))).toBe(0.13)
  expect(toTold(2.34, { label: 'Softness', unit: 'px', from: 0, to: 9, step: 0.5 })).toBe(2.3)
  expect(fromTold(7.6, { label: 'How many', unit: '', from: 1, to: 72, whole: true })).toBe(8)
  expect(usualOf({ one: shareRow('One'), two: shareRow('Two', { usual: 0.5 }) })).toEqual({ one: 1, two: 0.5 })
})

it('every kind of step is set to what its own schema takes', () => {
  for (const { schema, usual, word } of Object.values(STEP_KINDS))
    expect(v.safeParse(schema, usual).success, word).toBe(true)
})
