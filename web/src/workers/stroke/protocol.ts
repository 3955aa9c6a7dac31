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

/** The brush's pictures as files: a tip's frames, and its grain. */
export type PictureFiles = { frames: ArrayBuffer[]; grain: ArrayBuffer | undefined }

/** What a picture of strokes is painted from. */
export type PictureParts = {
  tip: ArrayBuffer[]
  grain: ArrayBuffer | undefined
  /** What the brush was made of before, where that differs from now. */
  before: PictureFiles | undefined
  size: { width: number; height: number }
  look: Look
}
export type PicturePart = keyof PictureParts

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

/** A part of the picture to put on the canvas, opaque RGBA. */
export type PaintedPixels = {
  x: number
  y: number
  width: number
  height: number
  data: Uint8ClampedArray<ArrayBuffer>
  /** Of a whole picture, what it shows; undefined for a part. */
  shows: string | undefined
  ms: number
}

export type PreviewWish = { recipe: Recipe; width: number; height: number }

/** What the worker that paints answers; what it paints is told as soon as it is there. */
export type StrokeQuestions = {
  /** What is painted with from now on. `shows` names what a whole picture shows that is painted from then on. */
  [Part in PicturePart]: (wish: { part: PictureParts[Part]; shows: string }) => void
} & {
  begin(wish: { seed: number }): void
  more(wish: { samples: Float64Array }): void
  end(wish: undefined): void
  /** Takes back the stroke that is being drawn. */
  drop(wish: undefined): void
  /** Takes away all that was drawn by hand. */
  clear(wish: undefined): void
  /** One long stroke of another recipe, opaque RGBA; nothing while the brush has no picture. */
  preview(wish: PreviewWish): Uint8ClampedArray<ArrayBuffer> | undefined
  /** The bounds of a strip with the least break; nothing while the brush has no picture. */
  findJoin(wish: undefined): StripJoin | undefined
}

/** What it says unasked. */
export type StrokeTold =
  | ({ type: 'pixels' } & PaintedPixels)
  | ({ type: 'findings' } & Findings)
  | { type: 'problem'; message: string }
