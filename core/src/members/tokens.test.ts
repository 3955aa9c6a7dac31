import { expect, it } from 'vitest'
import { ROLES, type Role } from './roles.ts'
import { roleByToken, TOKEN_SCOPE_NAMES } from './tokens.ts'

it('a token never comes as an owner, nor as more than its person', () => {
  for (const scope of TOKEN_SCOPE_NAMES)
    for (const person of Object.keys(ROLES) as Role[]) {
      const role = roleByToken(scope, person)
      expect(ROLES[role].isOwner).toBe(false)
      expect(ROLES[role].mayWrite && !ROLES[person].mayWrite).toBe(false)
      if (scope === 'read') expect(role).toBe('viewer')
    }
  expect(roleByToken('work', 'owner')).toBe('curator')
  expect(roleByToken('work', 'curator')).toBe('curator')
})
