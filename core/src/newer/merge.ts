import * as v from 'valibot'
import { isSameValue } from '../brush/same-value.ts'
import { type BrushState, FACETS, type Facet, facetOf, withFacets } from './state.ts'

/** The state a brush was taken in as, as it is here by now, and as its maker gives it now. */
export type Three = { base: BrushState; mine: BrushState; theirs: BrushState }

export type Side = 'mine' | 'theirs'
/** What was decided of facets that both have changed, by the first facet of each unit. */
export type Picks = { readonly [Name in Facet]?: Side }

/** What of a newer brush is taken: joined part by part, all of one side, or each as a brush of its own. */
export const WAYS = ['parts', 'mine', 'theirs', 'both'] as const
export type Way = (typeof WAYS)[number]

/**
 * How a newer brush stands to what was taken: its maker changed nothing that is not here already; only they changed it; both did, in
 * different things; or in the same.
 */
export type Standing = 'same' | 'follows' | 'joins' | 'open'

/** Facets that can only be had together, and what becomes of them. */
export type Unit = { facets: readonly Facet[]; change: 'none' | Side | 'both' }

export type Merged = {
  standing: Standing
  /** All in which anything was changed by anybody. */
  units: Unit[]
  result: BrushState
  /** Whose pictures and whose thumbnail the result has. */
  from: { pictures: Side; thumbnail: Side }
}

/**
 * Joins what somebody changed of a brush with what its maker changed meanwhile, as a merge of three states: what only one side changed
 * is as that side has it; where both changed the same thing otherwise, it is as picked, and else stays as it is here. Nothing that
 * was changed here is given up but by a pick.
 * @param picks For units that both changed; others are passed over.
 */
export function mergeThree(three: Three, picks: Picks = {}): Merged {
  const units = unitsOf(three).flatMap((facets): Unit[] => {
    const change = changeOf(three, facets)
    return change === 'none' ? [] : [{ facets, change }]
  })
  const taken = units.filter(({ facets: [first], change }) =>
    change === 'both' ? first && picks[first] === 'theirs' : change === 'theirs',
  )
  const facets = taken.flatMap((unit) => unit.facets)
  const { base, mine, theirs } = three
  const tags = joinTags(three)
  const sideOf = (facet: Facet): Side => (facets.includes(facet) ? 'theirs' : 'mine')
  return {
    standing: standingOf(units, !isSameTags({ tags }, mine), !isSameTags(mine, base)),
    units,
    result: { ...withFacets(mine, facets, theirs), tags },
    from: { pictures: sideOf('pictures'), thumbnail: sideOf('thumbnail') },
  }
}

function standingOf(units: readonly Unit[], bringsTags: boolean, hasOwnTags: boolean): Standing {
  const changes = new Set(units.map(({ change }) => change))
  if (changes.has('both')) return 'open'
  if (!changes.has('theirs') && !bringsTags) return 'same'
  return changes.has('mine') || hasOwnTags ? 'joins' : 'follows'
}

function changeOf({ base, mine, theirs }: Three, facets: readonly Facet[]): Unit['change'] {
  const isSame = (one: BrushState, two: BrushState) =>
    facets.every((facet) => isSameValue(facetOf(one, facet), facetOf(two, facet)))
  if (isSame(mine, theirs)) return 'none'
  if (isSame(base, theirs)) return 'mine'
  return isSame(base, mine) ? 'theirs' : 'both'
}

/** What was decided of a newer brush. */
export const Decision = v.object({
  way: v.picklist(WAYS),
  picks: v.record(v.picklist(FACETS), v.picklist(['mine', 'theirs'])),
})
export type Decision = { way: Way; picks: Picks }

/** A decision where none was made: part by part, and as it is here where both changed the same. */
export const UNDECIDED: Decision = { way: 'parts', picks: {} }

/** What becomes of a brush by a decision; "both" leaves it as it is, beside a new one as its maker gives it. */
export function decide(three: Three, { way, picks }: Decision): Pick<Merged, 'result' | 'from'> {
  switch (way) {
    case 'parts':
      return mergeThree(three, picks)
    case 'theirs':
      return { result: three.theirs, from: { pictures: 'theirs', thumbnail: 'theirs' } }
    case 'mine':
    case 'both':
      return { result: three.mine, from: { pictures: 'mine', thumbnail: 'mine' } }
  }
}

/**
 * Facets that mean something only together are decided together: rules for frames name how many there are, a thumbnail may name one of
 * them, and what lies along a path is a strip. Where nobody changed that, each is decided for itself.
 */
function unitsOf({ base, mine, theirs }: Three): Facet[][] {
  const all = [base, mine, theirs]
  const isOne = <Value>(of: (state: BrushState) => Value) => all.every((state) => of(state) === of(base))
  const isCountKept = isOne(({ pictures }) => pictures.frames.length)
  const pictures: Facet[] = ['pictures']
  if (!isCountKept) pictures.push('path.nextFrame')
  if (!isCountKept && all.some(({ thumbnail }) => thumbnail.of.from === 'frame')) pictures.push('thumbnail')
  if (!isOne(({ recipe }) => recipe.path.ribbon === undefined)) pictures.push('path.ribbon')
  return [pictures, ...FACETS.filter((facet) => !pictures.includes(facet)).map((facet) => [facet])]
}

/** Tags that are here, with those the maker added since, and without those they took away. */
function joinTags({ base, mine, theirs }: Three): string[] {
  const [was, theirOwn] = [new Set(base.tags), new Set(theirs.tags)]
  const stay = mine.tags.filter((tag) => !was.has(tag) || theirOwn.has(tag))
  const added = theirs.tags.filter((tag) => !was.has(tag) && !stay.includes(tag))
  return added.length === 0 ? stay : [...stay, ...added].sort()
}

type Tagged = Pick<BrushState, 'tags'>
const isSameTags = (one: Tagged, two: Tagged) => [...one.tags].sort().join('\n') === [...two.tags].sort().join('\n')
