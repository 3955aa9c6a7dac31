import type { TouchStroke } from '@satchel/core/make/steps/touch'

/** What the pointer does on the picture. Touching colours, touching up and objects each have their own choices. */
export type Tools = {
  becomes: 'paint' | 'ground'
  touch: Pick<TouchStroke, 'does' | 'radiusPx' | 'soft'>
  objects: 'leave' | 'join' | 'cut'
  /** By what a part of the picture is kept. */
  region: 'rectangle' | 'lasso'
}

/** What the pointer means just now: it follows from the step that is open. */
export type PointerMeaning = 'none' | 'crop' | 'colour' | 'touch' | 'objects' | 'turn'

export const firstTools = (sourceWidth: number): Tools => ({
  becomes: 'paint',
  touch: { does: 'drop', radiusPx: Math.max(2, Math.round(sourceWidth / 60)), soft: 0.3 },
  objects: 'leave',
  region: 'rectangle',
})
