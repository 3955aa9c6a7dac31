import { defaultRecipe } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
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

const MOST_PX = 4096

const TAKES: Takes = {
  'mark.sizePx': within(4, MOST_PX),
  'mark.angle': keyed('mode', 'fixed', 'following'),
  'path.spacingPct': within(1, 200),
  'variation.angle': anything,
  'hand.pressure': only('size', 'opacity'),
  'colour.opacity': within(0, 1),
  'colour.behaviour': oneOf('paint', 'erase'),
}

/** Turnstone: a grey picture of light that presses, cut to the circle inside. */
export const readTurnstone = readEach(['press'], async (path, bytes, folder, { png }) => {
  const { name, pictures, settings } = readSettings(bytes)
  const picture = beside(path, pictures)
  const [first] = await png(fileAt(folder, picture))
  if (first.width !== first.height) throw new Unusable(`"${picture}" is not square`)
  if (first.width > MOST_PX) throw new Unusable(`"${picture}" is larger than ${MOST_PX} px`)
  const recipe = applySettings(defaultRecipe({ sizePx: 100, reading: 'light' }), settings, TAKES)
  return { path, name, frames: [cutToCircle(lightOf(first))], grain: undefined, recipe, files: [path, picture] }
})

function cutToCircle({ width, height, data }: Pixels): Pixels {
  const out = new Uint8Array(data)
  const radius = width / 2
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (Math.hypot(x + 0.5 - radius, y + 0.5 - radius) > radius) out[y * width + x] = 0
  return { width, height, channels: 1, data: out }
}
