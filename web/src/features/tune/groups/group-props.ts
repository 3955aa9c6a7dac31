import type { Recipe } from '@satchel/core/brush/recipe'

/** What each group of the recipe is given. */
export type GroupProps = { recipe: Recipe; onChange: (recipe: Recipe) => void }

export const percent = (share: number) => Math.round(share * 1000) / 10
export const round1 = (value: number) => Math.round(value * 10) / 10
