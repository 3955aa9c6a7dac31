import { defaultRecipe } from '../brush/recipe.ts'
import {
  anything,
  applySettings,
  beside,
  fileAt,
  keyed,
  only,
  readEach,
  readSettings,
  type Takes,
  Unusable,
  within,
} from './found.ts'

const TAKES: Takes = {
  'mark.sizePx': within(1, 2000),
  'path.taper': anything,
  'path.ribbon': keyed('lay', 'stretched', 'repeated'),
  'hand.pressure': only('size'),
  'colour.opacity': within(0, 1),
  'colour.blend': anything,
}

/** Plover: a strip as a drawing of lines, laid along the path; where nothing says how, it is stretched. */
export const readPlover = readEach(['lay'], async (path, bytes, folder, { svg }) => {
  const { name, pictures, settings } = readSettings(bytes)
  const drawing = beside(path, pictures)
  if (!drawing.endsWith('.svg')) throw new Unusable(`"${drawing}" is no drawing of lines`)
  if (!svg) throw new Unusable('drawings of lines are not drawn here')
  const drawn = fileAt(folder, drawing)
  const strip = await svg(drawn)
  const usual = defaultRecipe({ sizePx: 24, reading: 'alpha' })
  usual.path.ribbon = { lay: 'stretched', leadInPx: 0, leadOutPx: 0 }
  const recipe = applySettings(usual, settings, TAKES)
  const { ribbon } = recipe.path
  // lengths are told in units of the drawing, whatever the size it is drawn at
  const unit = strip.width / widthOf(drawn, strip.width)
  if (ribbon) {
    ribbon.leadInPx *= unit
    ribbon.leadOutPx *= unit
  }
  return { path, name, frames: [strip], grain: undefined, recipe, files: [path, drawing] }
})

const HEAD_BYTES = 2000
const widthOf = (svg: Uint8Array, otherwise: number): number => {
  const head = new TextDecoder().decode(svg.subarray(0, HEAD_BYTES))
  const root = head.slice(Math.max(0, head.indexOf('<svg')))
  const [, width] = / width="([\d.]{1,20})"/.exec(root.slice(0, root.indexOf('>') + 1)) ?? []
  return Number(width) || otherwise
}
