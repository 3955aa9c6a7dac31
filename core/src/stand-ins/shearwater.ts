import { defaultRecipe } from '../brush/recipe.ts'
import {
  anything,
  applySettings,
  beside,
  fileAt,
  keyed,
  lightOf,
  oneOf,
  only,
  readEach,
  readSettings,
  type Takes,
  Unusable,
  within,
} from './found.ts'

const MOST_PX = 2048

const TAKES: Takes = {
  'mark.sizePx': within(1, 1000),
  'mark.angle': keyed('mode', 'fixed', 'following'),
  'mark.squash': within(0.1, 1),
  'path.spacingPct': within(2, 400),
  'path.scatter': keyed('alongPct', '0'),
  'path.count': within(1, 8),
  'path.taper': anything,
  'variation.size': anything,
  'variation.angle': anything,
  'variation.opacity': anything,
  'hand.pressure': only('size', 'opacity', 'flow'),
  'hand.tilt': only('size', 'opacity'),
  'ground.grain': keyed('anchor', 'canvas', 'stamp'),
  'colour.opacity': within(0.01, 1),
  'colour.flow': within(0.01, 1),
  'colour.blend': oneOf('normal', 'multiply'),
  'colour.behaviour': oneOf('paint', 'erase'),
}

/** Shearwater: a square picture of light that paints, what the file beside it says, and a grain of its own file. */
export const readShearwater = readEach(['tune'], async (path, bytes, folder, { png }) => {
  const { name, pictures, grain, settings } = readSettings(bytes)
  const picture = beside(path, pictures)
  const [first] = await png(fileAt(folder, picture))
  if (first.width !== first.height) throw new Unusable(`"${picture}" is not square`)
  if (first.width > MOST_PX) throw new Unusable(`"${picture}" is larger than ${MOST_PX} px`)
  const usual = defaultRecipe({ sizePx: 60, reading: 'light' })
  const recipe = applySettings(usual, settings, TAKES)
  const grainFile = grain === undefined ? undefined : beside(path, grain)
  const [tile] = grainFile === undefined ? [] : await png(fileAt(folder, grainFile))
  return {
    path,
    name,
    recipe,
    frames: [lightOf(first)],
    grain: tile,
    files: [path, picture, ...(grainFile === undefined ? [] : [grainFile])],
  }
})
