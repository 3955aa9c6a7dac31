import type { Recipe } from '@satchel/core/brush/recipe'
import type { AnchorAt } from '@satchel/core/trace/edit-trace'
import type { RibbonBounds } from '@satchel/core/trace/ribbon-drawing'
import type { Detail, TraceSettings } from '@satchel/core/trace/trace'
import type { Shown } from '../shown.ts'

/** What of a brush is traced: a picture of it, or one of the gauge strokes. */
export const TRACE_SOURCES = {
  picture: 'the picture',
  level: 'a level stroke',
  curve: 'a curved stroke',
  zigzag: 'a zigzag',
} as const
export type TraceSource = keyof typeof TRACE_SOURCES

/** A brush's pictures as files, and what is wanted of them. */
export type OpenWish = {
  frames: ArrayBuffer[]
  grain: ArrayBuffer | undefined
  recipe: Recipe
  source: TraceSource
  frame: number
}
/** What is traced, all but the tolerance. */
export type OutlineWish = Pick<TraceSettings, 'speckPx' | 'tones' | 'cornerDeg'>
/** One trace: how far it may deviate, and which of its anchors were taken away, one after another. */
export type TracedWish = OutlineWish & { tolerancePx: number; removed: readonly AnchorAt[] }
export type PreviewWish = TracedWish & { lay: LayWish; width: number; height: number }

/** How it is painted with: stamped, or laid along the path. */
export type LayWish = { as: 'stamps' } | ({ as: 'ribbon' } & RibbonBounds)

/** What was opened: its cover, black on nothing, and how much smaller than it came. */
export type Opened = Shown & { scale: number }
export type Swept = { details: Detail[]; before: { anchors: number; bytes: number } }
export type FittedTrace = {
  /** The data of each tone's path. */
  tones: { opacity: number; data: string }[]
  /** Where anchors lie, and which they are. */
  places: { x: number; y: number; at: AnchorAt }[]
  anchors: number
  bytes: number
  overlap: number
  deviationPx: number
}

/** What the worker that traces answers: all but the first is of what was opened last. */
export type TraceQuestions = {
  open(wish: OpenWish): Opened
  sweep(wish: OutlineWish): Swept
  fit(wish: TracedWish): FittedTrace
  preview(wish: PreviewWish): Shown
  /** The drawing as a file, SVG. */
  write(wish: TracedWish & { lay: LayWish }): string
}
