import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { afterMemberAct, GIVEN_ROLES, type MemberAct, ROLES, type Role, whyNotMember } from './roles.ts'

const ids = ['ann', 'bo', 'cy', 'di']
const someAct: fc.Arbitrary<MemberAct> = fc.oneof(
  fc.constantFrom(...GIVEN_ROLES).map((to) => ({ kind: 'role' as const, to })),
  fc.constantFrom('remove' as const, 'leave' as const, 'hand-over' as const).map((kind) => ({ kind })),
)
const someDeed = fc.record({ act: someAct, by: fc.constantFrom(...ids), about: fc.constantFrom(...ids) })

const first = () =>
  new Map<string, Role>([
    ['ann', 'owner'],
    ['bo', 'curator'],
    ['cy', 'viewer'],
  ])

describe('acts about members', () => {
  it('leave one owner, whatever is asked by whom and in whatever order', () => {
    fc.assert(
      fc.property(fc.array(someDeed, { maxLength: 40 }), (deeds) => {
        let roles: ReadonlyMap<string, Role> = first()
        for (const deed of deeds) {
          const after = afterMemberAct(roles, deed)
          if ('roles' in after) roles = after.roles
          expect([...roles.values()].filter((role) => ROLES[role].isOwner)).toHaveLength(1)
        }
      }),
    )
  })

  it('change only whom they are about, and who hands over', () => {
    fc.assert(
      fc.property(someDeed, (deed) => {
        const after = afterMemberAct(first(), deed)
        if ('refused' in after) return
        const changed = ids.filter((id) => first().get(id) !== after.roles.get(id))
        const touched = new Set(deed.act.kind === 'hand-over' ? [deed.by, deed.about] : [deed.about])
        expect(changed.filter((id) => !touched.has(id))).toEqual([])
      }),
    )
  })

  it('are for the owner alone, but leaving', () => {
    for (const kind of ['remove', 'hand-over', 'role'] as const)
      for (const by of ['curator', 'viewer'] as const) {
        const act: MemberAct = kind === 'role' ? { kind, to: 'curator' } : { kind }
        expect(whyNotMember(act, { by, about: 'viewer', isSelf: false })).toContain('Only the owner')
      }
    expect(whyNotMember({ kind: 'leave' }, { by: 'viewer', about: 'viewer', isSelf: true })).toBeUndefined()
    expect(whyNotMember({ kind: 'leave' }, { by: 'owner', about: 'owner', isSelf: true })).toContain('hand')
    expect(whyNotMember({ kind: 'leave' }, { by: 'owner', about: 'viewer', isSelf: false })).toContain('by oneself')
  })

  it('hand a workspace over: who had it is a curator then', () => {
    const after = afterMemberAct(first(), { act: { kind: 'hand-over' }, by: 'ann', about: 'cy' })
    expect(after).toEqual({
      roles: new Map([
        ['ann', 'curator'],
        ['bo', 'curator'],
        ['cy', 'owner'],
      ]),
    })
    expect(afterMemberAct(first(), { act: { kind: 'remove' }, by: 'ann', about: 'di' })).toEqual({
      refused: 'This person belongs to the workspace no more.',
    })
    expect(afterMemberAct(first(), { act: { kind: 'remove' }, by: 'di', about: 'bo' })).toEqual({
      refused: 'You belong to this workspace no more.',
    })
  })
})
