import * as v from 'valibot'
import { expect, it } from 'vitest'
import { newUuid } from './new-uuid.ts'

it('is a UUID of version 4, and another one each time', () => {
  const made = new Set(Array.from({ length: 500 }, newUuid))
  expect(made.size).toBe(500)
  for (const id of made) {
    expect(v.safeParse(v.pipe(v.string(), v.uuid()), id).success).toBe(true)
    expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab]/)
  }
})
