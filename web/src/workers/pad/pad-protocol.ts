import type { Recipe } from '@satchel/core/brush/recipe'
import type { Rgb } from '@satchel/core/raster/srgb'
import type { PadPart } from './pad-painting.ts'

/** What the worker of the try pad answers. */
export type PadQuestions = {
  /** A new sheet of this size, px. */
  sheet(wish: { width: number; height: number }): void
  /** A brush to paint with later: it is read once. */
  bring(wish: { id: string; recipe: Recipe; frames: ArrayBuffer[]; grain: ArrayBuffer | undefined }): void
  /** With what the next strokes are painted. Whether it is there: one that was not held for long is let go. */
  hold(wish: { id: string; colour: Rgb }): boolean
  begin(wish: { seed: number }): void
  more(wish: { samples: Float64Array }): void
  end(wish: undefined): void
  drop(wish: undefined): void
  clear(wish: undefined): void
  takeBack(wish: undefined): void
  doAgain(wish: undefined): void
}

/** What it says unasked. */
export type PadTold = ({ type: 'part' } & PadPart) | { type: 'steps'; back: number; again: number }
