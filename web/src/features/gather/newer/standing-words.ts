import type { LedgerLine, NewerPack } from '../../../data/gather.ts'

type Taken = NonNullable<LedgerLine['taken']>
export type Standing = Taken['standing']

const labelsOf = ({ units }: Taken, ...changes: Taken['units'][number]['change'][]) =>
  units
    .filter(({ change }) => changes.includes(change))
    .map(({ label }) => label.toLowerCase())
    .join(', ')

/** How a line stands to the brush that was taken of it before: a word that is seen first, and what more is said. */
export const STANDING_WORDS: Record<
  Standing,
  {
    /** Several such brushes of a pack. */
    count: (n: string) => string
    word: string
    more: (taken: Taken) => string
    needsCare?: true
  }
> = {
  follows: {
    count: (n) => `${n} newer`,
    word: 'Newer',
    more: (taken) => labelsOf(taken, 'theirs') || 'tags',
  },
  joins: {
    count: (n) => `${n} changed by you and by them`,
    word: 'You changed it, too',
    more: (taken) => `yours stays, ${labelsOf(taken, 'theirs') || 'tags'} comes with it`,
    needsCare: true,
  },
  open: {
    count: (n) => `${n} changed in the same place`,
    word: 'Both changed it',
    more: (taken) => `${labelsOf(taken, 'both')}: yours stays unless you choose theirs`,
    needsCare: true,
  },
  same: {
    count: (n) => `${n} as you have them`,
    word: 'Nothing new',
    more: ({ had }) => `you have it since ${had || 'before'}`,
  },
  older: { count: (n) => `${n} older than yours`, word: 'Older', more: ({ had }) => `you have it as in ${had}` },
  binned: { count: (n) => `${n} in your bin`, word: 'In your bin', more: () => 'take it, and it comes back' },
  removed: { count: (n) => `${n} that you deleted`, word: 'You deleted it', more: () => 'take it, and it is new here' },
}

/** What a newer release of a pack comes to: "12 follow, 3 new". */
export function tellCounts({ counts }: Pick<NewerPack, 'counts'>, format: (n: number) => string): string {
  const told = (Object.keys(STANDING_WORDS) as Standing[]).flatMap((standing) => {
    const n = counts[standing] ?? 0
    return n > 0 ? [STANDING_WORDS[standing].count(format(n))] : []
  })
  const added = counts.new ?? 0
  return [...told, ...(added > 0 ? [`${format(added)} new`] : [])].join(', ')
}
