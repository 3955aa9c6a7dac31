import { type Difference, describeDifferences, isSeen } from '../alike/differences.ts'

/**
 * How a brush stands to the one its group is shown under, one row a kind, the closest first: what it is called in a list,
 * and what is lost of it where only the other one is kept.
 */
export const SAME_KINDS = {
  whole: { word: 'the same in all', loses: 'nothing but its name' },
  picture: { word: 'the same picture', loses: 'its own recipe' },
  mark: { word: 'the same mark', loses: 'its size in px, its margin and its own recipe' },
  shape: { word: 'the same shape', loses: 'how its mark differs, and its own recipe' },
} as const satisfies Record<string, { word: string; loses: string }>

export type SameKind = keyof typeof SAME_KINDS
export const SAME_KIND_NAMES = Object.keys(SAME_KINDS) as [SameKind, ...SameKind[]]

/** What is known of a brush beside the one its group is shown under. */
export type Beside = {
  /** How its mark differs; absent where the pixels are the same. */
  differs: readonly Difference[] | undefined
  isSameRecipe: boolean
}

export function sameKindOf({ differs, isSameRecipe }: Beside): SameKind {
  if (differs === undefined) return isSameRecipe ? 'whole' : 'picture'
  return differs.some(isSeen) ? 'shape' : 'mark'
}

/** "The same picture, painting in another way", "Same mark, 60 px instead of 80". */
export function describeSame(beside: Beside): string {
  if (beside.differs !== undefined) return describeDifferences(beside.differs)
  return beside.isSameRecipe ? 'The same in all but its name' : 'The same picture, painting in another way'
}
