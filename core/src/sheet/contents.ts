import type { Recipe } from '../brush/recipe.ts'
import { BEHAVIOUR_WORDS, READING_WORDS } from '../brush/recipe-words.ts'
import { type HelpNode, layOutHelp, wordsOf } from '../help/help-page.ts'
import type { PackBrush, PackManifest } from '../pack/manifest.ts'

/** What stands on a sheet beside the strokes of a brush. */
export type SheetBrush = { id: string; name: string; note: string; facts: string }
/** Brushes under one heading: a set, or those that stand by themselves. */
export type Chapter = { name: string; brushes: SheetBrush[] }

/** All that is printed of a pack, in order. */
export type Sheet = {
  title: string
  /** Who made it, which release, under which licence: a line each. */
  facts: string[]
  help: HelpNode[]
  chapters: Chapter[]
}

/** Brushes of one sheet: more are printed set by set. */
export const SHEET_BRUSHES_MAX = 1000

/** What those are called that stand in a pack by themselves. */
export const SINGLE = 'Single brushes'

/** How many lines a sheet has: a brush that is in two sets is printed in both. */
export const countLines = ({ single, sets }: Pick<PackManifest, 'single' | 'sets'>): number =>
  sets.reduce((sum, { brushes }) => sum + brushes.length, single.length)

/** What is printed of a pack: single brushes, then its sets. */
export function toSheet(manifest: PackManifest): Sheet {
  const { title, maker, licence, release, help, brushes, single, sets } = manifest
  const lines = new Map(brushes.map((brush) => [brush.id, toLine(brush)]))
  const chapter = (name: string, ids: readonly string[]): Chapter => ({
    name,
    brushes: ids.flatMap((id) => lines.get(id) ?? []),
  })
  return {
    title,
    facts: [
      ...(maker ? [`Made by ${maker}`] : []),
      ...(release ? [`Release ${release}`] : []),
      `${brushes.length} ${brushes.length === 1 ? 'brush' : 'brushes'}`,
      ...(licence ? [`Licence: ${licence}`] : []),
    ],
    help: help.trim() === '' ? [] : layOutHelp(help),
    chapters: [
      ...(single.length > 0 ? [chapter(SINGLE, single)] : []),
      ...sets.map((set) => chapter(set.name, set.brushes)),
    ],
  }
}

type Described = Pick<PackBrush, 'id' | 'name' | 'note' | 'recipe'> & { frames: readonly unknown[] }

/** A brush in words. Its note loses what sets it apart by more than words: a line of print has one kind of letters. */
export const toLine = ({ id, name, note, recipe, frames }: Described): SheetBrush => ({
  id,
  name,
  note: note === '' ? '' : wordsOf(layOutHelp(note)).trim(),
  facts: [
    `${toSize(recipe)} px`,
    ...frameWords(recipe, frames.length),
    READING_WORDS[recipe.colour.reading],
    ...behaviourWords(recipe),
  ].join(', '),
})

const toSize = ({ mark }: Recipe) => String(Math.round(mark.sizePx * 10) / 10)
const frameWords = ({ path }: Recipe, frames: number) =>
  path.ribbon ? ['a strip'] : frames > 1 ? [`${frames} frames`] : []
/** A brush that takes away or moves paint is told in words: on paper its stroke may look like any other. */
const behaviourWords = ({ colour }: Recipe) => (colour.behaviour === 'paint' ? [] : [BEHAVIOUR_WORDS[colour.behaviour]])
