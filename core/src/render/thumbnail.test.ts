import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { defaultRecipe } from '../brush/recipe.ts'
import { isBlank } from '../raster/blank.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { prepareBrush } from '../stroke/prepare-brush.ts'
import { anyPixels, anyRecipe, roundTip } from '../testing.ts'
import { INK } from './render.ts'
import { renderSeenListStroke, renderThumbnail } from './thumbnail.ts'

const SIZE = { width: 120, height: 44 }
const greyAt = ({ width, data }: Pixels, x: number, y: number) => data[(y * width + x) * 4]
const MIDDLE = [SIZE.width / 2, SIZE.height / 2] as const

/** A round mark in one colour of its own. */
function disc(grey: number, side = 30): Pixels {
  const soft = roundTip(side)
  const tip = createPixels(side, side, 4)
  for (let i = 0; i < soft.data.length; i++) {
    tip.data.fill(grey, i * 4, i * 4 + 3)
    tip.data[i * 4 + 3] = Math.min(255, soft.data[i] * 3)
  }
  return tip
}

describe('a thumbnail', () => {
  it('shows the stroke on light ground, and white paint on dark', () => {
    const recipe = defaultRecipe({ sizePx: 24, reading: 'own' })
    const black = renderThumbnail({ frames: [disc(0)] }, recipe, SIZE)
    expect(greyAt(black, 0, 0)).toBeGreaterThan(230)
    expect(greyAt(black, ...MIDDLE)).toBeLessThan(90)
    const white = renderThumbnail({ frames: [disc(255)] }, recipe, SIZE)
    expect(greyAt(white, 0, 0)).toBeLessThan(90)
    expect(greyAt(white, ...MIDDLE)).toBeGreaterThan(200)
  })

  it('shows the frame that is asked for, in the middle and no larger than it is', () => {
    const frames = [disc(0), disc(0, 10)]
    const recipe = defaultRecipe({ sizePx: 24, reading: 'own', frames: 2 })
    const dark = (frame: number) =>
      renderThumbnail({ frames }, recipe, { ...SIZE, frame }).data.filter((value, i) => i % 4 === 0 && value < 128)
        .length
    expect(dark(1)).toBeGreaterThan(20)
    expect(dark(1)).toBeLessThan(100)
    expect(dark(0)).toBeGreaterThan(300)
    expect(greyAt(renderThumbnail({ frames }, recipe, { ...SIZE, frame: 1 }), ...MIDDLE)).toBeLessThan(40)
  })

  it('falls back on the frame when the stroke leaves no trace, and on hatching when the tip is empty', () => {
    const unseen = defaultRecipe({ sizePx: 24, reading: 'light' })
    unseen.colour.opacity = 0
    const frame = renderThumbnail({ frames: [roundTip(30)] }, unseen, SIZE)
    expect(greyAt(frame, ...MIDDLE)).toBeLessThan(60)
    expect(greyAt(frame, 5, 22)).toBeGreaterThan(230)
    const hatched = renderThumbnail({ frames: [createPixels(30, 30, 1)] }, unseen, SIZE)
    expect([greyAt(hatched, 0, 0), greyAt(hatched, 6, 0), greyAt(hatched, 0, 12)]).toEqual([168, 247, 168])
  })

  it('is never blank and always opaque, whatever the recipe and the tip', () => {
    fc.assert(
      fc.property(anyRecipe, anyPixels(), fc.option(fc.constant(0), { nil: undefined }), (recipe, tip, frame) => {
        const picture = renderThumbnail({ frames: [tip] }, recipe, { ...SIZE, frame })
        return !isBlank(picture) && picture.data.every((value, i) => i % 4 !== 3 || value === 255)
      }),
      { numRuns: 150 },
    )
  })
})

describe('a list’s stroke', () => {
  it('lies on nothing where it is seen there, and on dark ground where only that shows it', () => {
    const recipe = defaultRecipe({ sizePx: 24, reading: 'own' })
    const alphaOf = (grey: number) =>
      renderSeenListStroke(prepareBrush({ frames: [disc(grey)] }, recipe, INK), recipe, SIZE).data[3]
    expect(alphaOf(0)).toBe(0)
    expect(alphaOf(255)).toBe(255)
  })
})
