import type { Grain } from '../brush/recipe.ts'
import { weightOf } from '../grain/prepare-grain.ts'
import { toLuma } from '../raster/luma.ts'
import type { Pixels } from '../raster/pixels.ts'
import { type Fitting, groundOf } from './fit-state.ts'

/** A grain that the destination has no place for is drawn into the picture at the scale at which it is painted, or left. */
export function fitGrain(fitting: Fitting): void {
  const { recipe, grain, destination } = fitting
  const settings = recipe.ground.grain
  if (!grain || !settings || settings.strength === 0) return
  if (destination.grain !== 'none' && fitting.knows('ground.grain')) return
  const options = [
    { value: 'intoTip', label: 'drawn into the picture' },
    { value: 'leave', label: 'left behind' },
  ] as const
  const way = fitting.choose('grain', recipe.path.ribbon ? [options[1]] : options)
  fitting.grain = undefined
  if (way === 'leave') return
  const scale = canvasPxAPicturePx(fitting) / (settings.scalePct / 100)
  fitting.frames = fitting.frames.map((frame) => grained(frame, grain.pixels, settings, scale, groundOf(recipe)))
  fitting.change((before) => ({ ...before, ground: {} }))
  fitting.approximate('ground.grain', 'the grain', `drawn into the picture at ${Math.round(scale * 100)} % of its size`)
}

const canvasPxAPicturePx = ({ recipe, frames: [frame] }: Fitting): number =>
  recipe.mark.sizePx / Math.max(frame.width, frame.height)

/** @param scale px of the grain per px of the picture. */
function grained(frame: Pixels, tile: Pixels, settings: Grain, scale: number, ground: number | undefined): Pixels {
  const { width, height, channels } = frame
  const data = frame.data.slice()
  const count = samplesFor(frame, scale)
  // a grain lies on stamps from their middle
  const place = (at: number, side: number, tileSide: number) => modulo((at - side / 2) * scale, tileSide)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += channels) {
      const grey = greyAt(tile, place(x, width, tile.width), place(y, height, tile.height), { span: scale, count })
      const weight = weightOf(grey, settings)
      if (channels === 4) data[i + 3] = Math.round(data[i + 3] * weight)
      else data[i] = Math.round((ground ?? 255) + (data[i] - (ground ?? 255)) * weight)
    }
  return { width, height, channels, data }
}

const modulo = (value: number, by: number) => ((value % by) + by) % by

/** Samples of a grain that are taken for one px along a side, and for a whole picture: a mean of more looks the same. */
const SAMPLES_A_SIDE_MOST = 32
const SAMPLES_MOST = 100_000_000

/** How many px of a grain are looked at along each side of what one px of a picture covers. */
const samplesFor = ({ width, height }: Pixels, span: number): number =>
  Math.max(1, Math.min(Math.ceil(span), SAMPLES_A_SIDE_MOST, Math.floor(Math.sqrt(SAMPLES_MOST / (width * height)))))

/** The mean grey, 0…1, of the px of a tile that one px of a picture covers; the tile goes on for ever. */
function greyAt(
  { width, height, channels, data }: Pixels,
  x: number,
  y: number,
  { span, count }: { span: number; count: number },
): number {
  let sum = 0
  for (let dy = 0; dy < count; dy++)
    for (let dx = 0; dx < count; dx++) {
      const px = Math.floor(x + (dx * span) / count) % width
      const i = ((Math.floor(y + (dy * span) / count) % height) * width + px) * channels
      sum += channels === 1 ? data[i] : toLuma(data[i], data[i + 1], data[i + 2])
    }
  return sum / (count * count * 255)
}
