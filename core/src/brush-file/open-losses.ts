import type { Recipe } from '../brush/recipe.ts'

/** Parts of a recipe that the open brush files have no place for, in the interface's own words. */
const PARTS: readonly { name: string; isUsed: (recipe: Recipe) => boolean }[] = [
  { name: 'the grain', isUsed: ({ ground }) => ground.grain !== undefined },
  { name: 'the ribbon', isUsed: ({ path }) => path.ribbon !== undefined },
  {
    name: 'angle and squash',
    isUsed: ({ mark }) => mark.squash !== 1 || mark.angle.mode !== 'fixed' || mark.angle.deg !== 0,
  },
  { name: 'scatter and count', isUsed: ({ path }) => path.scatterPct > 0 || path.count > 1 },
  { name: 'the taper', isUsed: ({ path: { taper } }) => taper.startPx > 0 || taper.endPx > 0 },
  { name: 'the variation', isUsed: ({ variation }) => !isStill(variation) },
  {
    name: 'the curves of the hand',
    isUsed: ({ hand }) => Object.values(hand).some((curves) => Object.keys(curves).length > 0),
  },
  { name: 'the shading by tone', isUsed: ({ colour }) => colour.reading === 'tone' },
  {
    name: 'flow, opacity and blend',
    isUsed: ({ colour }) => colour.flow < 1 || colour.opacity < 1 || colour.blend !== 'normal',
  },
  { name: 'that it erases', isUsed: ({ colour }) => colour.behaviour === 'erase' },
  { name: 'that it smears', isUsed: ({ colour }) => colour.behaviour === 'smear' },
]

/** Ranges that leave everything as it is count as no variation. */
function isStill({ size, squash, opacity, flow, angle, hue, saturation, value }: Recipe['variation']): boolean {
  const isWhole = (spread: Recipe['variation']['size']) =>
    typeof spread === 'number' ? spread === 0 : spread.from === 1 && spread.to === 1
  const isNone = (change: Recipe['variation']['angle']) =>
    typeof change === 'number' ? change === 0 : change.from === 0 && change.to === 0
  return [size, squash, opacity, flow].every(isWhole) && [angle, hue, saturation, value].every(isNone)
}

/** What of a brush an open brush file (GBR, GIH) leaves behind: it holds name, frames, spacing and next-frame rules. */
export const openFileLosses = (recipe: Recipe): string[] =>
  PARTS.filter(({ isUsed }) => isUsed(recipe)).map(({ name }) => name)
