import { parseRecipe } from '../brush/migrate-recipe.ts'
import type { Recipe } from '../brush/recipe.ts'
import { FormatError } from '../errors.ts'
import { toOneLine } from '../formats/text.ts'
import { NAME_MAX_CHARS } from '../limits.ts'

type Loose = Record<string, unknown>

/** Each older version's step to the next. */
const STEPS: Record<number, (manifest: Loose) => Loose> = {
  // Version 2 adds grains, strips and pockets; the first version had none of them.
  1: (manifest) => ({ ...manifest, version: 2, grains: [], strips: [], pockets: [] }),
  // Version 3 says what each thumbnail is made from; before, all were the stroke.
  2: (manifest) => ({
    ...manifest,
    version: 3,
    brushes: eachOf(manifest.brushes, (brush) => ({ ...brush, thumbnail: { from: 'stroke' } })),
  }),
  // Version 4 keeps the names of frames and keys that mean nothing here, allows no unseen characters in names, and wants
  // rules that go over as many frames as there are. Earlier ones were looser, so what they hold is put right.
  3: (manifest) => ({
    ...withCleanNames(manifest),
    version: 4,
    brushes: eachOf(manifest.brushes, (brush) => ({
      ...withCleanNames(brush),
      frameNames: [],
      keys: [],
      recipe: withRulesForFrames(brush),
    })),
    sets: eachOf(manifest.sets, withCleanNames),
    pockets: eachOf(manifest.pockets, withCleanNames),
    grains: eachOf(manifest.grains, withCleanNames),
    strips: eachOf(manifest.strips, withCleanNames),
  }),
  // Version 5 has notes on brushes, brushes that stand by themselves, and what the pack is meant for. Among what was stored as
  // version 4 there are rules that do not go over all frames.
  4: (manifest) => ({
    ...manifest,
    version: 5,
    brushes: eachOf(manifest.brushes, (brush) => ({ ...brush, note: '', recipe: withRulesForFrames(brush) })),
    single: [],
    destinations: [],
  }),
  // Version 6 may say whom a copy was issued to.
  5: (manifest) => ({ ...manifest, version: 6 }),
  // Version 7 may say which pack it is a release of, and how to set up a rack for it.
  6: (manifest) => ({ ...manifest, version: 7 }),
}

/**
 * Brings a manifest of an older version to this one, its recipes too.
 * @throws {FormatError} If it is newer, or a recipe in it is not one.
 */
export function migrateManifest(value: Loose, wanted: number): Loose {
  let manifest = value
  if (!Array.isArray(manifest.brushes)) throw new FormatError('Satchel pack', undefined, 'a list of brushes')
  while (typeof manifest.version === 'number' && STEPS[manifest.version]) manifest = STEPS[manifest.version](manifest)
  if (manifest.version !== wanted)
    throw new FormatError(
      'Satchel pack',
      undefined,
      `version ${wanted} or older, found ${JSON.stringify(manifest.version)}`,
    )
  return {
    ...manifest,
    brushes: eachOf(manifest.brushes, (brush) => ({ ...brush, recipe: parseRecipe(brush.recipe) })),
  }
}

const eachOf = (list: unknown, change: (item: Loose) => Loose): unknown =>
  Array.isArray(list) ? list.map((item) => change({ ...item })) : list

/** What a person reads on one line, put on one. */
const LINES = ['title', 'name', 'maker', 'licence', 'release']

function withCleanNames(item: Loose): Loose {
  const clean = LINES.flatMap((key) =>
    typeof item[key] === 'string' ? [[key, toOneLine(item[key], NAME_MAX_CHARS)]] : [],
  )
  return { ...item, ...Object.fromEntries(clean) }
}

const withRulesForFrames = ({ recipe, frames }: Loose): Recipe =>
  withRulesFor(parseRecipe(recipe), Array.isArray(frames) ? frames.length : 1)

function withRulesFor(recipe: Recipe, frames: number): Recipe {
  const { nextFrame } = recipe.path
  if (nextFrame.reduce((product, rule) => product * rule.frames, 1) === frames) return recipe
  return { ...recipe, path: { ...recipe.path, nextFrame: [{ rule: nextFrame[0].rule, frames }] } }
}
