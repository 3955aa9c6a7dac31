import type { Recipe } from '@satchel/core/brush/recipe'

export type GroundName = 'paper' | 'mid' | 'black' | 'checker'
export type Rgb = { r: number; g: number; b: number }

/** What the page asks the stroke worker. Free strokes are known by the page's own numbers. */
export type StrokeRequest =
  | { type: 'tip'; frames: { key: string; png: ArrayBuffer }[] }
  | { type: 'size'; width: number; height: number }
  | { type: 'look'; recipe: Recipe; colour: Rgb; ground: GroundName }
  | { type: 'begin'; seed: number }
  | { type: 'more'; samples: Float64Array }
  | { type: 'end' }
  | { type: 'clear' }

/** What the worker answers: a part of the picture to put on the canvas, opaque RGBA. */
export type StrokeAnswer =
  | {
      type: 'pixels'
      x: number
      y: number
      width: number
      height: number
      data: Uint8ClampedArray<ArrayBuffer>
      whole: boolean
      ms: number
    }
  | { type: 'problem'; message: string }
