import type { Draft } from './ahead-state.ts'

/**
 * Keeps what is not saved over a reload of this page; other pages have their own.
 * @param key Names what is changed, among all that can be.
 */
export function keepDraft(key: string, draft: Draft<unknown> | undefined): void {
  try {
    if (draft) sessionStorage.setItem(`satchel-draft-${key}`, JSON.stringify(draft))
    else sessionStorage.removeItem(`satchel-draft-${key}`)
  } catch {
    // no room, or none allowed: the draft is still on the page
  }
}

/**
 * What was kept before the reload; nothing where it cannot be read.
 * @param parse Takes what was kept, migrates it where it is of an earlier kind, and throws where it is none.
 */
export function findDraft<Value>(key: string, parse: (kept: unknown) => Value): Draft<Value> | undefined {
  try {
    const kept: unknown = JSON.parse(sessionStorage.getItem(`satchel-draft-${key}`) ?? 'null')
    if (typeof kept !== 'object' || kept === null || !('value' in kept) || !('base' in kept)) return undefined
    return typeof kept.base === 'number' ? { value: parse(kept.value), base: kept.base } : undefined
  } catch {
    return undefined
  }
}
