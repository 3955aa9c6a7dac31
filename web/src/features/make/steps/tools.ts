import type { TouchStroke, TouchTip, TouchUp } from '@satchel/core/make/steps/touch'

/** What the pointer does on the picture. Touching colours, touching up and objects each have their own choices. */
export type Tools = {
  becomes: 'paint' | 'ground'
  touch: Pick<TouchStroke, 'does' | 'radiusPx' | 'soft'>
  /** The tip that touches up; round where there is none. */
  tip?: TouchTip | undefined
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

/** A stroke added by hand, with its tip among those the step keeps. */
export function withStroke({ strokes, tips = [] }: TouchUp, { touch, tip }: Tools, path: number[]): TouchUp {
  if (!tip) return { strokes: [...strokes, { ...touch, path }], ...(tips.length > 0 ? { tips } : {}) }
  const known = tips.findIndex(({ name, cover }) => name === tip.name && cover === tip.cover)
  const place = known < 0 ? tips.length : known
  return {
    strokes: [...strokes, { ...touch, tip: place, path }],
    tips: known < 0 ? [...tips, tip] : tips,
  }
}
