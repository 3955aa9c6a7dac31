import { defaultRecipe } from '../brush/recipe.ts'
import { anything, applySettings, fileAt, readEach, readSettings, type Takes } from './found.ts'

const PARTS = [
  'mark.sizePx',
  'mark.angle',
  'mark.squash',
  'path.spacingPct',
  'path.scatter',
  'path.count',
  'path.nextFrame',
  'path.taper',
  'path.ribbon',
  'variation.size',
  'variation.angle',
  'variation.squash',
  'variation.opacity',
  'variation.flow',
  'variation.hue',
  'variation.saturation',
  'variation.value',
  'hand.pressure',
  'hand.tilt',
  'hand.speed',
  'ground.grain',
  'colour.reading',
  'colour.anchorGrey',
  'colour.opacity',
  'colour.flow',
  'colour.blend',
  'colour.behaviour',
]
const TAKES: Takes = Object.fromEntries(PARTS.map((name) => [name, anything]))

/** Sanderling: takes whole recipes, and finds pictures and grains by their paths from its folder down. */
export const readSanderling = readEach(['sand'], async (path, bytes, folder, { png }) => {
  const { name, pictures, grain, settings } = readSettings(bytes)
  const frames = await png(fileAt(folder, pictures))
  const [tile] = grain === undefined ? [] : await png(fileAt(folder, grain))
  const recipe = applySettings(defaultRecipe({ frames: frames.length }), settings, TAKES)
  return { path, name, frames, grain: tile, recipe, files: [path, pictures, ...(grain === undefined ? [] : [grain])] }
})
