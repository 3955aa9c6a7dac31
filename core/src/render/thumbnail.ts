import { toCoverage } from '../brush/coverage.ts'
import type { Recipe } from '../brush/recipe.ts'
import { isBlank } from '../raster/blank.ts'
import type { Pixels } from '../raster/pixels.ts'
import { fitSize, shrinkPixels } from '../raster/resample.ts'
import type { Rgb } from '../raster/srgb.ts'
import { createSurface, type Surface } from '../raster/surface.ts'
import { type BrushPictures, prepareBrush } from '../stroke/prepare-brush.ts'
import type { PreparedBrush } from '../stroke/stroke.ts'
import { INK, type RenderOptions, renderListStroke } from './render.ts'

/** The lightest neutral backdrop, and one on which white paint is seen. */
const LIGHT: Rgb = { r: 247, g: 247, b: 247 }
const DARK: Rgb = { r: 58, g: 58, b: 58 }
/** The part of a thumbnail's height and width that a frame may fill. */
const FRAME_SHARE = 0.9
const HATCH_PX = 12
const HATCH_LINE_PX = 2
const HATCH_GREY = 168

type Size = { width: number; height: number }

/**
 * A list's stroke: on nothing where it is seen on light backdrop, else opaque on dark backdrop, so that white paint shows too.
 *
 * @returns Premultiplied, as `renderListStroke`.
 */
export function renderSeenListStroke(brush: PreparedBrush, recipe: Recipe, options: RenderOptions): Surface {
  const bare = renderListStroke(brush, recipe, options)
  if (!isBlank(layOn(bare, LIGHT))) return bare
  const onDark = renderListStroke(brush, recipe, { ...options, backdrop: DARK })
  return isBlank(toPixels(onDark)) ? bare : onDark
}

/**
 * A thumbnail that is never blank: the stroke on light or dark backdrop; where that leaves no trace, the frame; where that is
 * empty too, hatching, which says that this brush paints nothing.
 *
 * @param options.frame The frame to show, counted from 0, instead of the stroke.
 * @returns Opaque.
 */
export function renderThumbnail(
  pictures: BrushPictures,
  recipe: Recipe,
  { width, height, frame }: Size & { frame?: number | undefined },
): Pixels {
  if (frame === undefined) {
    const brush = prepareBrush(pictures, recipe, INK)
    for (const backdrop of [LIGHT, DARK]) {
      const picture = toPixels(renderListStroke(brush, recipe, { width, height, backdrop }))
      if (!isBlank(picture)) return picture
    }
  }
  const shown = pictures.frames[frame ?? 0] ?? pictures.frames[0]
  for (const backdrop of shown ? [LIGHT, DARK] : []) {
    const picture = placeFrame(shown, recipe, { width, height, backdrop })
    if (!isBlank(picture)) return picture
  }
  return hatch(width, height)
}

/** A frame as it paints, in the middle of a backdrop. */
export function placeFrame(
  frame: Pixels,
  recipe: Recipe,
  { width, height, backdrop }: Size & { backdrop: Rgb },
): Pixels {
  const room = Math.min((width * FRAME_SHARE) / frame.width, (height * FRAME_SHARE) / frame.height, 1)
  const size = fitSize(frame.width, frame.height, Math.max(1, Math.floor(Math.max(frame.width, frame.height) * room)))
  const paint = toCoverage(shrinkPixels(frame, size.width, size.height), recipe.colour.reading)
  const surface = createSurface(width, height)
  const left = Math.floor((width - paint.width) / 2)
  const top = Math.floor((height - paint.height) / 2)
  for (let y = 0; y < paint.height; y++) {
    for (let x = 0; x < paint.width; x++) {
      const i = (y * paint.width + x) * paint.channels
      const alpha = paint.data[i + paint.channels - 1]
      const { r, g, b } = paint.channels === 1 ? INK : { r: paint.data[i], g: paint.data[i + 1], b: paint.data[i + 2] }
      const o = ((top + y) * width + left + x) * 4
      surface.data[o] = (r * alpha) / 255
      surface.data[o + 1] = (g * alpha) / 255
      surface.data[o + 2] = (b * alpha) / 255
      surface.data[o + 3] = alpha
    }
  }
  return layOn(surface, backdrop)
}

/** A premultiplied picture on an even backdrop, opaque. */
export function layOn({ width, height, data }: Surface, backdrop: Rgb): Pixels {
  const under = [backdrop.r, backdrop.g, backdrop.b]
  const out = new Uint8Array(data.length)
  for (let i = 0; i < data.length; i += 4) {
    const through = 255 - data[i + 3]
    for (let c = 0; c < 3; c++) out[i + c] = data[i + c] + Math.round((under[c] * through) / 255)
    out[i + 3] = 255
  }
  return { width, height, channels: 4, data: out }
}

const toPixels = ({ width, height, data }: Surface): Pixels => ({
  width,
  height,
  channels: 4,
  data: new Uint8Array(data.buffer, data.byteOffset, data.length),
})

function hatch(width: number, height: number): Pixels {
  const surface = createSurface(width, height, LIGHT)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if ((x + y) % HATCH_PX < HATCH_LINE_PX)
        surface.data.fill(HATCH_GREY, (y * width + x) * 4, (y * width + x) * 4 + 3)
    }
  }
  return toPixels(surface)
}
