import type { Recipe } from '@satchel/core/brush/recipe'
import type { FirstStroke } from '@satchel/core/make/first-stroke'
import type { SheetObject } from '@satchel/core/make/sheet/find-objects'
import type { Mix, Touch } from '@satchel/core/make/steps/grey'
import type { Tones } from '@satchel/core/make/steps/tones'
import type { Plan } from '@satchel/core/make/ways'
import type { WorkPlace } from '@satchel/core/make/work'
import type { Shown } from '../shown.ts'

export type MakeWish = {
  plan: Plan
  /** The recipe of the brush it becomes; the usual one where there is none yet. */
  recipe: Recipe | undefined
  /** Whether the picture is shown whole, to be cropped, or as the steps leave it before it is trimmed. */
  whole: boolean
  /** Which object, layer or view is tried, by its place in their order. */
  part: number
  stamp: { width: number; height: number }
  stroke: { width: number; height: number }
}

/** An object of a sheet, with a place on it in px of the source. */
export type ShownObject = SheetObject & { at: { x: number; y: number } }

export type ShownLayer = { name: string; within: readonly string[]; isHidden: boolean; width: number; height: number }

export type MakeShown = {
  before: Shown
  after: Shown
  place: WorkPlace
  /** Greys that the black and white point are set on. */
  histogram: Uint32Array
  /** The finished tip at full size, px; undefined where nothing paints. */
  tip: { width: number; height: number } | undefined
  stamp: Shown
  stroke: Shown
  /** How it strokes at first, by the measure of its mark; undefined where nothing paints. */
  proposed: FirstStroke | undefined
  objects: ShownObject[]
  /** Of a drawing, its layers, topmost first. */
  layers: ShownLayer[]
  /** The share of a model's paint that a circle would cut off. */
  circleLoss: number | undefined
  /** How many steps ran, and how long they took. */
  ran: number
  ms: number
}

/** What follows from touching colours: the mixture that parts what was touched, and the tones that fit it. */
export type Found = { mix: Mix; tones: Tones }

/** What the worker answers that runs a source's steps over its preview. */
export type MakeQuestions = {
  /** The file itself where layers or a model are begun with, else a preview of it as PNG; and the width it stands for. */
  open(wish: { bytes: ArrayBuffer; sourceWidth: number }): void
  /** The grain of the brush it becomes. */
  grain(wish: { png: ArrayBuffer | undefined }): void
  /** Nothing, where another is wanted by now, or nothing is open yet. */
  show(wish: MakeWish): MakeShown | undefined
  mix(wish: { plan: Plan; touches: Touch[] }): Found
  /** The outline of what a plan gives, as SVG. */
  outline(wish: { plan: Plan }): string
}
