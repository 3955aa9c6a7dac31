import type { SameMember } from '../../data/same-marks.ts'

type Uses = SameMember['uses']

/** What uses a brush, one row a kind, in the order in which it is said. */
const SAID: { [Kind in keyof Uses]-?: (count: number, names: string) => string } = {
  set: (count, names) => (count === 1 ? `in the set ${names}` : `in ${count} sets: ${names}`),
  pocket: (count, names) => (count === 1 ? `pinned in ${names}` : `pinned ${count} times: ${names}`),
  pack: (count, names) => (count === 1 ? `in the pack ${names}` : `in ${count} packs: ${names}`),
  source: (_, names) => `made of ${names}`,
  followed: (_, names) => `followed from ${names}`,
  install: (count, names) => (count === 1 ? `installed with ${names}` : `in ${count} installs: ${names}`),
}

/** "In 2 sets: Dune, Shore; pinned in Pocket", or that nothing uses it. */
export function sayUses(uses: Uses): string {
  const said = (Object.keys(SAID) as (keyof Uses)[]).flatMap((kind) => {
    const use = uses[kind]
    if (!use) return []
    const names = use.names.join(', ') + (use.count > use.names.length ? ' …' : '')
    return SAID[kind](use.count, names)
  })
  const text = said.join('; ')
  return text === '' ? 'Used nowhere' : text.slice(0, 1).toUpperCase() + text.slice(1)
}
