import type { Mesh } from '../mesh/mesh.ts'
import { composeLayers, flatLayers, type LayerNode } from '../raster/compose-layers.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'

/** A source's file as it was opened: its picture, and what it has besides. */
export type Opened = {
  /** What one sees on opening it; of a model there is none until it is drawn. */
  picture: Pixels
  /** Topmost first, on a canvas as large as the picture. */
  layers: readonly LayerNode[]
  mesh: Mesh | undefined
}

/** What a file was read to, whatever its kind. */
type Read = {
  frames: readonly { pixels: Pixels; name: string }[]
  drawing?: { width: number; height: number; layers: readonly LayerNode[] } | undefined
  mesh?: Mesh | undefined
}

/** Frames of a file count as layers, the first one topmost. */
export function toOpened({ frames, drawing, mesh }: Read): Opened {
  if (drawing) {
    const { layers, width, height } = drawing
    return { picture: composeLayers(layers, width, height), layers, mesh }
  }
  const picture = frames[0]?.pixels ?? createPixels(1, 1, 1)
  const layers = frames.map(({ pixels, name }, i) => ({
    kind: 'layer' as const,
    name: name || `frame ${i + 1}`,
    op: 'normal' as const,
    opacity: 1,
    isHidden: false,
    pixels,
    left: 0,
    top: 0,
  }))
  return { picture, layers, mesh }
}

/** Pictures as the layers of one drawing, each in the middle of a canvas that holds them all, the first one topmost. */
export function stackPictures(pictures: readonly { name: string; pixels: Pixels }[]) {
  const width = pictures.reduce((most, { pixels }) => Math.max(most, pixels.width), 1)
  const height = pictures.reduce((most, { pixels }) => Math.max(most, pixels.height), 1)
  const layers = pictures.map(({ name, pixels }) => ({
    kind: 'layer' as const,
    name,
    op: 'normal' as const,
    opacity: 1,
    isHidden: false,
    pixels,
    left: Math.floor((width - pixels.width) / 2),
    top: Math.floor((height - pixels.height) / 2),
  }))
  return { width, height, layers }
}

/** The layers that one may choose, in the order in which plans count them. */
export const layersOf = ({ layers }: Opened) => flatLayers(layers)
