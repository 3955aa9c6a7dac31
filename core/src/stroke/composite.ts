import { type BlendMode, createBlend } from '../raster/blend.ts'
import type { Rgb } from '../raster/srgb.ts'
import { Q15_ONE } from './kernel.ts'
import type { Rect, Surface } from './surface.ts'

/** A stroke on a layer of its own, Q15, the size of the canvas; how it is to be laid down. */
export type Layer = {
  data: Int16Array
  /** One channel of coverage in `colour`, or premultiplied RGBA. */
  channels: 1 | 4
  colour: Rgb
  /** Caps the whole stroke, 0…1. */
  opacity: number
  blend: BlendMode
  /** `replace`: the layer is the canvas as it shall become where opacity is full. */
  behaviour: 'paint' | 'erase' | 'replace'
  /** Weights of a grain along a row of the area, Q15, first entry at `left`; undefined for none. */
  weigh: ((y: number, left: number, right: number) => Int16Array) | undefined
}

/** Lays a stroke on the canvas within an area, in place, on premultiplied 8-bit sRGB. */
export function compositeLayer(surface: Surface, area: Rect, layer: Layer): void {
  const { left, right, top, bottom } = area
  const count = right - left
  const cover = new Float64Array(count)
  for (let y = top; y < bottom; y++) {
    const weights = layer.weigh?.(y, left, right)
    for (let k = 0; k < count; k++) cover[k] = layer.opacity * (weights ? weights[k] / Q15_ONE : 1)
    const first = y * surface.width + left
    if (layer.behaviour === 'replace') replaceRow(surface, layer, first, cover)
    else if (layer.behaviour === 'erase') eraseRow(surface, layer, first, cover)
    else if (layer.blend !== 'normal') blendRow(surface, layer, first, cover)
    else if (layer.channels === 1) coverRow(surface, layer, first, cover)
    else overRow(surface, layer, first, cover)
  }
}

/** Source-over of one colour. */
function coverRow({ data }: Surface, layer: Layer, first: number, cover: Float64Array): void {
  const { r, g, b } = layer.colour
  const paint = layer.data
  for (let k = 0, p = first, o = first * 4; k < cover.length; k++, p++, o += 4) {
    if (paint[p] === 0) continue
    const alpha = (paint[p] / Q15_ONE) * cover[k]
    const keep = 1 - alpha
    data[o] = data[o] * keep + r * alpha
    data[o + 1] = data[o + 1] * keep + g * alpha
    data[o + 2] = data[o + 2] * keep + b * alpha
    data[o + 3] = data[o + 3] * keep + 255 * alpha
  }
}

/** Source-over of premultiplied colours. */
function overRow({ data }: Surface, layer: Layer, first: number, cover: Float64Array): void {
  const paint = layer.data
  for (let k = 0, o = first * 4; k < cover.length; k++, o += 4) {
    if (paint[o + 3] === 0) continue
    const share = cover[k] / Q15_ONE
    const keep = 1 - paint[o + 3] * share
    const light = share * 255
    data[o] = data[o] * keep + paint[o] * light
    data[o + 1] = data[o + 1] * keep + paint[o + 1] * light
    data[o + 2] = data[o + 2] * keep + paint[o + 2] * light
    data[o + 3] = data[o + 3] * keep + paint[o + 3] * light
  }
}

/** Destination-out. */
function eraseRow({ data }: Surface, layer: Layer, first: number, cover: Float64Array): void {
  const { data: paint, channels } = layer
  for (let k = 0, o = first * 4; k < cover.length; k++, o += 4) {
    const keep = 1 - (paint[channels === 1 ? first + k : o + 3] / Q15_ONE) * cover[k]
    for (let c = 0; c < 4; c++) data[o + c] *= keep
  }
}

function replaceRow({ data }: Surface, layer: Layer, first: number, cover: Float64Array): void {
  for (let k = 0, o = first * 4; k < cover.length; k++, o += 4) {
    for (let c = 0; c < 4; c++) data[o + c] += (layer.data[o + c] * (255 / Q15_ONE) - data[o + c]) * cover[k]
  }
}

/**
 * Blends, then source-over: co = cs · as · (1 − ab) + as · ab · B(cb, cs) + (1 − as) · ab · cb, premultiplied.
 * @see W3C Compositing and Blending Level 1, section 5.
 */
function blendRow({ data }: Surface, layer: Layer, first: number, cover: Float64Array): void {
  const { data: paint, channels, colour } = layer
  const blend = createBlend(layer.blend)
  const below: [number, number, number] = [0, 0, 0]
  const source: [number, number, number] = [colour.r / 255, colour.g / 255, colour.b / 255]
  const mixed: [number, number, number] = [0, 0, 0]
  for (let k = 0, o = first * 4; k < cover.length; k++, o += 4) {
    const q15 = paint[channels === 1 ? first + k : o + 3]
    if (q15 === 0) continue
    const alpha = (q15 / Q15_ONE) * cover[k]
    const alphaBelow = data[o + 3] / 255
    for (let c = 0; c < 3; c++) {
      below[c] = alphaBelow === 0 ? 0 : Math.min(1, data[o + c] / 255 / alphaBelow)
      if (channels === 4) source[c] = paint[o + c] / q15
    }
    blend(below, source, mixed)
    for (let c = 0; c < 3; c++) {
      const light =
        source[c] * alpha * (1 - alphaBelow) + alpha * alphaBelow * mixed[c] + (1 - alpha) * alphaBelow * below[c]
      data[o + c] = 255 * light
    }
    data[o + 3] = 255 * (alpha + alphaBelow * (1 - alpha))
  }
}
