import { Recipe } from '@satchel/core/brush/recipe'
import * as v from 'valibot'
import type { Draft } from './edit-state.ts'

const keyOf = (brushId: string) => `satchel-draft-${brushId}`
const Kept = v.object({
  base: v.number(),
  facts: v.object({
    name: v.string(),
    maker: v.string(),
    licence: v.string(),
    tags: v.array(v.string()),
    recipe: Recipe,
  }),
})

/** Keeps what is not saved over a reload of this page; other pages have their own. */
export function keepDraft(brushId: string, draft: Draft | undefined): void {
  try {
    if (draft) sessionStorage.setItem(keyOf(brushId), JSON.stringify(draft))
    else sessionStorage.removeItem(keyOf(brushId))
  } catch {
    // no room, or none allowed: the draft is still on the page
  }
}

/** What was kept before the reload; nothing where it cannot be read, or is of an older recipe. */
export function findDraft(brushId: string): Draft | undefined {
  try {
    const kept = v.safeParse(Kept, JSON.parse(sessionStorage.getItem(keyOf(brushId)) ?? 'null'))
    return kept.success ? kept.output : undefined
  } catch {
    return undefined
  }
}
