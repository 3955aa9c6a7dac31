import { type BlendMode, createBlend } from './blend.ts'
import { createPixels, type Pixels } from './pixels.ts'

/** Blend modes, and the operators of W3C Compositing and Blending Level 1, section 9, that drawings use besides. */
type Op = BlendMode | 'dst-in' | 'dst-out' | 'src-atop' | 'dst-atop' | 'plus'

type About = { name: string; op: Op; opacity: number; isHidden: boolean }
/** A picture at its place on a larger one. */
export type Layer = About & { kind: 'layer'; pixels: Pixels; left: number; top: number }
export type LayerGroup = About & { kind: 'group'; children: readonly LayerNode[] }
/** Layers and groups of them, topmost first. */
export type LayerNode = Layer | LayerGroup

/** Premultiplied colour and alpha, 0…1, of some rows of the whole from `top` on. */
type Field = { width: number; height: number; top: number; data: Float32Array }

/** Pixels that are composed at once: a field takes 16 bytes a pixel, and a stack of groups as many fields. */
const BAND_PX = 1 << 20

/**
 * What a stack of layers looks like: each laid on what is below it; a group is composed by itself first (isolated).
 * Hidden ones are left out.
 *
 * @param layers Topmost first.
 */
export function composeLayers(layers: readonly LayerNode[], width: number, height: number): Pixels {
  const out = createPixels(width, height, 4)
  const rows = Math.max(1, Math.floor(BAND_PX / width))
  for (let top = 0; top < height; top += rows) {
    const band = { width, height: Math.min(rows, height - top), top }
    writePixels(compose(layers, band), out.data.subarray(4 * width * top))
  }
  return out
}

type Band = Omit<Field, 'data'>
const emptyField = (band: Band): Field => ({ ...band, data: new Float32Array(band.width * band.height * 4) })

function compose(layers: readonly LayerNode[], band: Band): Field {
  const field = emptyField(band)
  for (const node of [...layers].reverse()) {
    if (node.isHidden || node.opacity === 0) continue
    const source = node.kind === 'layer' ? placed(node, band) : compose(node.children, band)
    layOn(field, source, node)
  }
  return field
}

/** What of a layer lies on some rows of the whole. */
function placed({ pixels, left, top: from }: Layer, band: Band): Field {
  const field = emptyField(band)
  const { width, height } = band
  const top = from - band.top
  const { channels, data } = pixels
  for (let y = Math.max(0, -top); y < Math.min(pixels.height, height - top); y++)
    for (let x = Math.max(0, -left); x < Math.min(pixels.width, width - left); x++) {
      const i = channels * (y * pixels.width + x)
      const o = 4 * ((y + top) * width + x + left)
      const alpha = channels === 1 ? 1 : data[i + 3] / 255
      for (let c = 0; c < 3; c++) field.data[o + c] = (data[channels === 1 ? i : i + c] / 255) * alpha
      field.data[o + 3] = alpha
    }
  return field
}

/** How much of source and backdrop stays, by the alpha of the other: Porter and Duff's fractions, section 9.1. */
const FRACTIONS: Partial<Record<Op, (source: number, below: number) => [source: number, below: number]>> = {
  'dst-in': (source) => [0, source],
  'dst-out': (source) => [0, 1 - source],
  'src-atop': (source, below) => [below, 1 - source],
  'dst-atop': (source, below) => [1 - below, source],
  plus: () => [1, 1],
}

function layOn({ data: below }: Field, { data: source }: Field, { op, opacity }: About): void {
  const fractions = FRACTIONS[op]
  const blend = fractions || op === 'normal' ? undefined : createBlend(op as BlendMode)
  const mixed: [number, number, number] = [0, 0, 0]
  for (let i = 0; i < below.length; i += 4) {
    const alpha = source[i + 3] * opacity
    const under = below[i + 3]
    // only the operators that keep what is under by the source's alpha change anything where it has none
    if (alpha === 0 && !fractions) continue
    const [keepSource, keepBelow] = fractions ? fractions(alpha, under) : [1, 1 - alpha]
    if (blend && under > 0) {
      const pure = (data: Float32Array, share: number): [number, number, number] => [
        data[i] / share,
        data[i + 1] / share,
        data[i + 2] / share,
      ]
      const paint = pure(source, source[i + 3])
      blend(pure(below, under), paint, mixed)
      // the blended colour where there is something under, the plain one elsewhere (section 5.8.1)
      for (let c = 0; c < 3; c++)
        below[i + c] = alpha * ((1 - under) * paint[c] + under * mixed[c]) + below[i + c] * keepBelow
    } else
      for (let c = 0; c < 3; c++)
        below[i + c] = Math.min(1, source[i + c] * opacity * keepSource + below[i + c] * keepBelow)
    below[i + 3] = Math.min(1, alpha * keepSource + under * keepBelow)
  }
}

function writePixels({ data }: Field, out: Uint8Array): void {
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]
    if (alpha === 0) continue
    for (let c = 0; c < 3; c++) out[i + c] = Math.round(Math.min(1, data[i + c] / alpha) * 255)
    out[i + 3] = Math.round(alpha * 255)
  }
}

/** One layer, or group, alone on the whole, as it would be seen without the others; its own blend has nothing to meet. */
export const layerAlone = (node: LayerNode, width: number, height: number): Pixels =>
  composeLayers([{ ...node, op: 'normal', isHidden: false }], width, height)

/** Every layer that is no group, topmost first, with the names of the groups it lies in; hidden where one of those is. */
export function flatLayers(nodes: readonly LayerNode[], within: readonly string[] = [], isHidden = false): FlatLayer[] {
  return nodes.flatMap((node) => {
    const hidden = isHidden || node.isHidden
    if (node.kind === 'group') return flatLayers(node.children, [...within, node.name], hidden)
    return [{ layer: node, within, isHidden: hidden }]
  })
}
export type FlatLayer = { layer: Layer; within: readonly string[]; isHidden: boolean }
