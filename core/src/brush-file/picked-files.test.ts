import { expect, it } from 'vitest'
import { FILE_KINDS } from './kinds.ts'
import { EVERY_KIND, PICTURE_KINDS, pickerList } from './picked-files.ts'

it('a picker offers every kind that is taken, and only those where a picture is wanted', () => {
  expect(EVERY_KIND).toEqual(Object.keys(FILE_KINDS))
  expect(pickerList(EVERY_KIND)).toContain('.stl')
  expect(pickerList(PICTURE_KINDS)).not.toContain('.stl')
  expect(pickerList(['jpeg', 'png'])).toBe('image/jpeg,.jpg,.jpeg,image/png,.png,.apng')
})
