import type { GihDimension } from '../formats/gih/layout.ts'
import type { Mesh } from '../mesh/mesh.ts'
import type { LayerNode } from '../raster/compose-layers.ts'
import type { Pixels } from '../raster/pixels.ts'
import type { RibbonBounds } from '../trace/ribbon-drawing.ts'

/** A frame as a file has it. */
export type FileFrame = {
  pixels: Pixels
  /** What the file calls it, where it names frames. */
  name: string
  /** How long it stays, where the file plays. */
  delayMs: number | undefined
}

/** What a file says about a brush or a picture, whatever its kind; nothing in it is changed yet. */
export type BrushFile = {
  name: string | undefined
  maker: string | undefined
  licence: string | undefined
  /** Texts that the file holds besides, by their keywords. */
  texts: Record<string, string>
  /** At least one. */
  frames: FileFrame[]
  spacingPct: number | undefined
  /** The rules that pick the next frame, over the grid of frames. */
  dimensions: GihDimension[] | undefined
  /** Keys that no reader knows, in file order. */
  keys: [key: string, value: string][]
  pixelsPerMetre: number | undefined
  /** Of a drawing: its layers, topmost first, on its canvas. Its frames are those that are not hidden. */
  drawing?: { width: number; height: number; layers: readonly LayerNode[] }
  /** Of a model: its surface. Its frame is its depth from the front. */
  mesh?: Mesh
  /** Of a drawing that says how it is laid along a path. */
  ribbon?: RibbonBounds
  /** What was odd and how it was taken, in sentences. */
  warnings: string[]
}

/** A file that says nothing besides its frames. */
export const bareFile = (frames: FileFrame[]): BrushFile => ({
  name: undefined,
  maker: undefined,
  licence: undefined,
  texts: {},
  frames,
  spacingPct: undefined,
  dimensions: undefined,
  keys: [],
  pixelsPerMetre: undefined,
  warnings: [],
})
