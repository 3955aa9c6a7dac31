import { trimSigns } from '../formats/text.ts'
import { keyOfEnd, type LooseEnd, sharedTail } from './find.ts'

/** What begins with one prefix is to begin with another; both are whole parts of paths. */
export type RenameRule = { from: string; to: string }

/** What a rule makes of one loose end. */
export type RenamedEnd = { key: string; path: string; isThere: boolean }

/** Whole parts only: "Sea" is no prefix of "Seaweed/x". */
const startsWith = (path: string, prefix: string) => prefix === '' || path === prefix || path.startsWith(`${prefix}/`)

/** What a rule makes of every loose end that it goes for, in their order. */
export function applyRule(ends: readonly LooseEnd[], { from, to }: RenameRule, paths: ReadonlySet<string>) {
  const [old, next] = [trimSlashes(from), trimSlashes(to)]
  return ends.flatMap((end): RenamedEnd[] => {
    const { lookedAt } = end
    if (lookedAt === undefined || !startsWith(lookedAt, old)) return []
    const rest = old === '' ? lookedAt : lookedAt.slice(old.length + 1)
    const path = [next, rest].filter((part) => part !== '').join('/')
    return [{ key: keyOfEnd(end), path, isThere: paths.has(path) }]
  })
}

/** The rules that follow from what was found, the one that mends most first, with how many each mends. */
export function suggestRules(
  ends: readonly LooseEnd[],
  paths: ReadonlySet<string>,
): (RenameRule & { mends: number })[] {
  const rules = new Map<string, RenameRule>()
  for (const { lookedAt, proposals } of ends) {
    const [first] = proposals
    if (!first || first.putBack || lookedAt === undefined) continue
    const shared = sharedTail(lookedAt, first.path)
    if (shared === 0) continue
    const from = withoutTail(lookedAt, shared)
    const to = withoutTail(first.path, shared)
    if (from !== '') rules.set(`${from}\n${to}`, { from, to })
  }
  return [...rules.values()]
    .map((rule) => ({ ...rule, mends: applyRule(ends, rule, paths).filter(({ isThere }) => isThere).length }))
    .filter(({ mends }) => mends > 0)
    .sort((a, b) => b.mends - a.mends || (a.from < b.from ? -1 : 1))
}

const withoutTail = (path: string, parts: number) => path.split('/').slice(0, -parts).join('/')
const trimSlashes = (path: string) => trimSigns(path.trim(), '/')
