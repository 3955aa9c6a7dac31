import type { Recipe } from '@satchel/core/brush/recipe'
import type { ToneMeasure } from '@satchel/core/brush/tone'
import type { StripJoin } from '@satchel/core/grain/strip-join'
import type { Rgb } from '@satchel/core/raster/srgb'
import type { Squeeze } from '@satchel/core/stroke/ribbon/squeeze'

export type BackdropName = 'paper' | 'mid' | 'black' | 'checker'
/** A named backdrop, or a grey 0…255. */
export type Backdrop = BackdropName | number

/** How the brush paints just now, and what of it is shown: as it is, as it was, or both with a line between. */
export type Look = {
  recipe: Recipe
  before?: Recipe | undefined
  show: 'after' | 'before' | 'split'
  /** Where the line stands, 0…1 from the left. */
  splitAt: number
  colour: Rgb
  backdrop: Backdrop
  /** All gauge strokes, or one long stroke. */
  strokes: 'gauge' | 'line'
}

/**
 * What the page asks the stroke worker. Free strokes are known by the page's own numbers. `shows` names what a whole
 * picture shows that is painted from then on.
 */
export type StrokeRequest = StrokeWish & { shows?: string }

type StrokeWish =
  | { type: 'tip'; frames: ArrayBuffer[] }
  | { type: 'grain'; png: ArrayBuffer | undefined }
  /** What the brush was made of before, where that differs from now. */
  | { type: 'before'; pictures: { frames: ArrayBuffer[]; grain: ArrayBuffer | undefined } | undefined }
  | { type: 'size'; width: number; height: number }
  | ({ type: 'look' } & Look)
  | { type: 'begin'; seed: number }
  | { type: 'more'; samples: Float64Array }
  | { type: 'end' }
  | { type: 'drop' }
  | { type: 'clear' }
  | { type: 'preview'; id: string; recipe: Recipe; width: number; height: number }
  | { type: 'findJoin' }

/** What was noticed while painting. */
export type Findings = {
  /** A stroke asked for more than is drawn. */
  cutShort: boolean
  squeezes: Squeeze[]
  /** The scale of the gauge strokes: below 1 where the brush paints too wide for the canvas. */
  gaugeScale: number
  tone: ToneMeasure | undefined
  /** The break at a repeated strip's join. */
  joinBreak: number | undefined
  /** The size of the strip, px. */
  strip: { width: number; height: number } | undefined
}

/** What the worker answers. Pixels are a part of the picture to put on the canvas, opaque RGBA. */
export type StrokeAnswer =
  | {
      type: 'pixels'
      x: number
      y: number
      width: number
      height: number
      data: Uint8ClampedArray<ArrayBuffer>
      /** Of a whole picture, what it shows; undefined for a part. */
      shows: string | undefined
      ms: number
    }
  | { type: 'preview'; id: string; width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> }
  | ({ type: 'findings' } & Findings)
  | ({ type: 'join' } & StripJoin)
  | { type: 'problem'; message: string }
