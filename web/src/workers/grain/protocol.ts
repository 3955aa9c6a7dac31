import type { Mend } from '@satchel/core/grain/mend'
import type { GrainRule, RuleSettings } from '@satchel/core/grain/rules'
import type { Seam } from '@satchel/core/grain/seam'

/** What is wanted of the worker that draws and mends tiles. */
export type GrainWish =
  | { type: 'draw'; rule: GrainRule; settings: RuleSettings }
  /** Mends a stored tile; without a way it is only measured. */
  | { type: 'mend'; png: ArrayBuffer; mend: Mend | undefined }
export type GrainRequest = GrainWish & { id: number }

export type GrainTile = {
  width: number
  height: number
  /** The tile moved by half of its sides, so that its seams lie in the middle; opaque RGBA. */
  data: Uint8ClampedArray<ArrayBuffer>
  seam: Seam
  png: Uint8Array<ArrayBuffer>
}
export type GrainAnswer = { id: number } & ({ type: 'tile'; tile: GrainTile } | { type: 'problem'; message: string })
