import * as v from 'valibot'
import { parseRecipe } from '../brush/migrate-recipe.ts'
import { PART_NAMES, type PartName } from '../brush/parts.ts'
import { Recipe } from '../brush/recipe.ts'
import { Thumbnail } from '../brush/thumbnail.ts'

const Words = v.array(v.string())
/** All of a brush that its maker or its owner can change, in a shape that two libraries share. */
const BrushState = v.object({
  name: v.string(),
  maker: v.string(),
  licence: v.string(),
  tags: Words,
  recipe: Recipe,
  /** Frames by the names of their pixels, what each is called (none where no frame has a name), and keys of its open file. */
  pictures: v.object({
    frames: Words,
    names: Words,
    keys: v.array(v.strictTuple([v.string(), v.string()])),
  }),
  /** What stands for it, and the name of the file where that is a picture of its own. */
  thumbnail: v.object({ of: Thumbnail, file: v.string() }),
})
export type BrushState = v.InferOutput<typeof BrushState>

/** A state as it was stored, with its recipe brought to the newest version. @throws {Error} If it is none. */
export const parseBrushState = (stored: unknown): BrushState => {
  const { recipe, ...state } = stored as BrushState
  return v.parse(BrushState, { ...state, recipe: parseRecipe(recipe) })
}

const WORDS = ['name', 'maker', 'licence', 'pictures', 'thumbnail'] as const
type Word = (typeof WORDS)[number]

/** What is decided as one: a part of the recipe, or something else of a brush. Tags are joined tag by tag, and never decided. */
export type Facet = Word | PartName

export const FACETS: readonly Facet[] = [...WORDS, ...PART_NAMES]

const isWord = (facet: Facet): facet is Word => (WORDS as readonly string[]).includes(facet)

type Groups = Record<string, Record<string, unknown>>
const partOf = (facet: PartName) => facet.split('.') as [group: string, part: string]

/** A facet's value; undefined of a part that a recipe leaves out. */
export function facetOf(state: BrushState, facet: Facet): unknown {
  if (isWord(facet)) return state[facet]
  const [group, part] = partOf(facet)
  return (state.recipe as unknown as Groups)[group]?.[part]
}

/** A state with some facets of another one. */
export function withFacets(state: BrushState, facets: readonly Facet[], other: BrushState): BrushState {
  const made = { ...state }
  const recipe = { ...state.recipe } as unknown as Groups
  for (const facet of facets) {
    if (isWord(facet)) Object.assign(made, { [facet]: other[facet] })
    else {
      const [group, part] = partOf(facet)
      const { [part]: _, ...rest } = recipe[group] ?? {}
      const value = facetOf(other, facet)
      recipe[group] = value === undefined ? rest : { ...rest, [part]: value }
    }
  }
  return { ...made, recipe: recipe as unknown as Recipe }
}
