import type { Recipe } from '@satchel/core/brush/recipe'
import type { Crop, PhotoGrainWish } from '@satchel/core/grain/from-photo'
import type { Mend } from '@satchel/core/grain/mend'
import type { GrainRule, RuleSettings } from '@satchel/core/grain/rules'
import type { Seam } from '@satchel/core/grain/seam'
import type { Shown } from '../shown.ts'

/** What is wanted of the worker that draws and mends tiles. */
export type GrainWish =
  | { type: 'draw'; rule: GrainRule; settings: RuleSettings }
  /** Mends a stored tile; without a way it is only measured. */
  | { type: 'mend'; png: ArrayBuffer; mend: Mend | undefined }
  /** Makes a tile of a photograph: its file, and what is wanted of it. */
  | { type: 'photo'; file: File; wish: PhotoGrainWish }
/** A stroke of a brush with a tile in the place of its grain. */
export type StrokeWish = {
  frames: readonly ArrayBuffer[]
  grain: Uint8Array<ArrayBuffer>
  recipe: Recipe
  width: number
  height: number
}

export type GrainTile = {
  width: number
  height: number
  /** The tile moved by half of its sides, so that its seams lie in the middle; opaque RGBA. */
  data: Uint8ClampedArray<ArrayBuffer>
  seam: Seam
  png: Uint8Array<ArrayBuffer>
  /** Of a photograph: the part that was taken, px, how large it is, and a smaller picture of it. */
  photo?: { crop: Crop; width: number; height: number; shown: Shown }
}

/** What the worker for tiles answers. */
export type GrainQuestions = {
  tile(wish: GrainWish): GrainTile
  stroke(wish: StrokeWish): Shown
}
