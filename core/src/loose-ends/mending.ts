import { keyOfEnd, type LooseEnd } from './find.ts'
import { applyRule, type RenameRule } from './rename-rule.ts'

/** Which loose ends are to be mended, and by what: all sure ones, those of a rule, or as the curator has chosen. */
export type Mending = { sure: true } | { rule: RenameRule } | { chosen: readonly { key: string; path: string }[] }

/** A loose end and where it is to lead. */
export type MendTarget = { end: LooseEnd; path: string; putBack: boolean }

/**
 * What a wish comes to: only ends that are loose, only places where something is, or is put back.
 * @param paths Those of all files.
 */
export function chooseTargets(mending: Mending, ends: readonly LooseEnd[], paths: ReadonlySet<string>): MendTarget[] {
  if ('sure' in mending)
    return ends.flatMap((end) => {
      const [first] = end.proposals
      return end.isSure && first ? [{ end, path: first.path, putBack: first.putBack === true }] : []
    })
  const byKey = new Map(ends.map((end) => [keyOfEnd(end), end]))
  const wishes =
    'rule' in mending ? applyRule(ends, mending.rule, paths).filter(({ isThere }) => isThere) : mending.chosen
  return wishes.flatMap(({ key, path }) => {
    const end = byKey.get(key)
    if (!end) return []
    const putBack = end.proposals.some((proposal) => proposal.putBack && proposal.path === path) && !paths.has(path)
    return putBack || paths.has(path) ? [{ end, path, putBack }] : []
  })
}
