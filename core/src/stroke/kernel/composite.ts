import { type Blend, type BlendMode, createBlend } from '../../raster/blend.ts'
import type { Rgb } from '../../raster/srgb.ts'
import type { Rect, SurfacePart } from '../../raster/surface.ts'
import { Q15_ONE } from './kernel.ts'

/** A stroke on a layer of its own, Q15, the size of the canvas; how it is to be laid down. */
export type Layer = {
  data: Int16Array
  /** px a row. */
  width: number
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

/**
 * Lays a stroke on the canvas within an area, in place, on premultiplied 8-bit sRGB. The plain cases count in Q15
 * integers, which is off by less than a hundredth of a level.
 */
export function compositeLayer(surface: SurfacePart, area: Rect, layer: Layer): void {
  const { left, right, top, bottom } = area
  const count = right - left
  const cover = new Int32Array(count).fill(Math.round(layer.opacity * Q15_ONE))
  const blend = layer.blend === 'normal' ? undefined : createBlend(layer.blend)
  for (let y = top; y < bottom; y++) {
    const weights = layer.weigh?.(y, left, right)
    if (weights)
      for (let k = 0; k < count; k++) cover[k] = (Math.round(layer.opacity * Q15_ONE) * weights[k] + HALF) >> 15
    const row = {
      data: surface.data,
      at: ((y - (surface.top ?? 0)) * surface.width + left - (surface.left ?? 0)) * 4,
      from: y * layer.width + left,
      cover,
    }
    if (layer.behaviour === 'replace') replaceRow(row, layer)
    else if (layer.behaviour === 'erase') eraseRow(row, layer)
    else if (blend) blendRow(row, layer, blend)
    else if (layer.channels === 1) coverRow(row, layer)
    else overRow(row, layer)
  }
}

/** A row of the canvas from byte `at`, the layer's first pixel of it, and how much of the layer counts, Q15 a pixel. */
type Row = { data: Uint8ClampedArray | Uint8Array; at: number; from: number; cover: Int32Array | Int16Array }

const HALF = 0x4000

/** Source-over of one colour. */
export function coverRow({ data, at, from, cover }: Row, layer: Pick<Layer, 'data' | 'colour'>): void {
  const { r, g, b } = layer.colour
  const paint = layer.data
  for (let k = 0, p = from, o = at; k < cover.length; k++, p++, o += 4) {
    if (paint[p] === 0) continue
    const alpha = (paint[p] * cover[k] + HALF) >> 15
    const keep = Q15_ONE - alpha
    data[o] = (data[o] * keep + r * alpha + HALF) >> 15
    data[o + 1] = (data[o + 1] * keep + g * alpha + HALF) >> 15
    data[o + 2] = (data[o + 2] * keep + b * alpha + HALF) >> 15
    data[o + 3] = (data[o + 3] * keep + 255 * alpha + HALF) >> 15
  }
}

/** Source-over of premultiplied colours. */
export function overRow({ data, at, from, cover }: Row, layer: Pick<Layer, 'data'>): void {
  const paint = layer.data
  for (let k = 0, p = from * 4, o = at; k < cover.length; k++, p += 4, o += 4) {
    if (paint[p + 3] === 0) continue
    const share = cover[k]
    const keep = Q15_ONE - ((paint[p + 3] * share + HALF) >> 15)
    data[o] = (data[o] * keep + ((paint[p] * share + HALF) >> 15) * 255 + HALF) >> 15
    data[o + 1] = (data[o + 1] * keep + ((paint[p + 1] * share + HALF) >> 15) * 255 + HALF) >> 15
    data[o + 2] = (data[o + 2] * keep + ((paint[p + 2] * share + HALF) >> 15) * 255 + HALF) >> 15
    data[o + 3] = (data[o + 3] * keep + ((paint[p + 3] * share + HALF) >> 15) * 255 + HALF) >> 15
  }
}

/** Destination-out. */
function eraseRow({ data, at, from, cover }: Row, { data: paint, channels }: Layer): void {
  for (let k = 0, o = at; k < cover.length; k++, o += 4) {
    const alpha = paint[channels === 1 ? from + k : (from + k) * 4 + 3]
    const keep = Q15_ONE - ((alpha * cover[k] + HALF) >> 15)
    for (let c = 0; c < 4; c++) data[o + c] = (data[o + c] * keep + HALF) >> 15
  }
}

function replaceRow({ data, at, from, cover }: Row, { data: paint }: Layer): void {
  for (let k = 0, p = from * 4, o = at; k < cover.length; k++, p += 4, o += 4) {
    const share = cover[k] / Q15_ONE
    for (let c = 0; c < 4; c++) data[o + c] += (paint[p + c] * (255 / Q15_ONE) - data[o + c]) * share
  }
}

/**
 * Blends, then source-over: co = cs · as · (1 − ab) + as · ab · B(cb, cs) + (1 − as) · ab · cb, premultiplied.
 * @see W3C Compositing and Blending Level 1, section 5.
 */
function blendRow({ data, at, from, cover }: Row, layer: Layer, blend: Blend): void {
  const { data: paint, channels, colour } = layer
  const below: [number, number, number] = [0, 0, 0]
  const source: [number, number, number] = [colour.r / 255, colour.g / 255, colour.b / 255]
  const mixed: [number, number, number] = [0, 0, 0]
  for (let k = 0, o = at; k < cover.length; k++, o += 4) {
    const p = channels === 1 ? from + k : (from + k) * 4
    const q15 = paint[channels === 1 ? p : p + 3]
    if (q15 === 0) continue
    const alpha = (q15 / Q15_ONE) * (cover[k] / Q15_ONE)
    const alphaBelow = data[o + 3] / 255
    for (let c = 0; c < 3; c++) {
      below[c] = alphaBelow === 0 ? 0 : Math.min(1, data[o + c] / 255 / alphaBelow)
      if (channels === 4) source[c] = Math.min(1, paint[p + c] / q15)
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
