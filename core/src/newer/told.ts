import type { PartName } from '../brush/parts.ts'
import { recipeDifference } from '../brush/recipe-difference.ts'
import { thumbnailWords } from '../brush/thumbnail.ts'
import type { Merged, Three, Unit } from './merge.ts'
import type { BrushState, Facet } from './state.ts'

/** A unit in words: what it is called, and how it stands with each. */
export type ToldUnit = {
  facet: Facet
  change: Exclude<Unit['change'], 'none'>
  label: string
  mine: string
  theirs: string
}

const NOTHING = 'nothing'

/** What is no part of the recipe, in words. */
const WORDS: { [Name in Exclude<Facet, PartName>]: { label: string; told: (state: BrushState) => string } } = {
  name: { label: 'Name', told: ({ name }) => name },
  maker: { label: 'Maker', told: ({ maker }) => maker || NOTHING },
  licence: { label: 'Licence', told: ({ licence }) => licence || NOTHING },
  pictures: {
    label: 'Pictures',
    told: ({ pictures: { frames } }) =>
      `${frames.length === 1 ? '1 frame' : `${frames.length} frames`}, ${(frames[0] ?? '').slice(0, 8)}`,
  },
  thumbnail: { label: 'Thumbnail', told: ({ thumbnail }) => thumbnailWords(thumbnail.of) },
}

/** What was changed of a brush, here, there or by both, in words; see `mergeThree`. */
export function tellUnits({ mine, theirs }: Three, { units }: Pick<Merged, 'units'>): ToldUnit[] {
  const parts = new Map(recipeDifference(mine.recipe, theirs.recipe).map((row) => [row.part as Facet, row]))
  return units.flatMap(({ facets, change }): ToldUnit[] => {
    const [facet] = facets
    if (!facet || change === 'none') return []
    const rows = facets.flatMap((each) => {
      if (each in WORDS) {
        const { label, told } = WORDS[each as keyof typeof WORDS]
        return { label, mine: told(mine), theirs: told(theirs) }
      }
      const row = parts.get(each)
      return row ? { label: row.label, mine: row.from, theirs: row.to } : []
    })
    const all = (of: (row: (typeof rows)[number]) => string) => rows.map(of).join('; ')
    return [
      {
        facet,
        change,
        label: all(({ label }) => label),
        mine: all((row) => row.mine),
        theirs: all((row) => row.theirs),
      },
    ]
  })
}
