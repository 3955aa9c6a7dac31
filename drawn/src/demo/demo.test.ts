import { Recipe } from '@satchel/core/brush/recipe'
import { measureSeamFigures, SEAM_VISIBLE } from '@satchel/core/grain/seam'
import { measureJoin } from '@satchel/core/grain/strip-join'
import { INK, renderListStroke } from '@satchel/core/render/render'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { demoBrushes } from './brushes.ts'
import { demoGrains } from './grains.ts'
import { drawWords } from './words.ts'

const brushes = demoBrushes()
const grains = demoGrains()

describe('the demo library', () => {
  it('holds six sets of 60 brushes and more, a dozen of them animated, no name twice in a set', () => {
    expect(brushes.length).toBeGreaterThanOrEqual(60)
    expect(brushes.filter((brush) => brush.frames.length > 1).length).toBeGreaterThanOrEqual(12)
    expect(new Set(brushes.map((brush) => brush.set)).size).toBe(6)
    const places = brushes.map((brush) => `${brush.set} / ${brush.name}`)
    expect(new Set(places).size).toBe(places.length)
  })

  it('uses what a recipe can say: grain, ribbons, tone, taper, erasing, smearing, blending', () => {
    const uses: ((recipe: Recipe) => boolean)[] = [
      ({ ground }) => ground.grain !== undefined,
      ({ path }) => path.ribbon?.lay === 'repeated',
      ({ path }) => path.ribbon?.lay === 'stretched',
      ({ path }) => path.taper.endPx > 0,
      ({ colour }) => colour.reading === 'tone',
      ({ colour }) => colour.behaviour === 'erase',
      ({ colour }) => colour.behaviour === 'smear',
      ({ colour }) => colour.blend === 'multiply',
    ]
    for (const isUsed of uses)
      expect(
        brushes.some(({ recipe }) => isUsed(recipe)),
        String(isUsed),
      ).toBe(true)
  })

  it('has recipes of the schema, and a stroke of its own for every brush: none is blank', () => {
    const seen = new Map<string, string>()
    for (const { set, name, frames, recipe, grain } of brushes) {
      expect(v.safeParse(Recipe, recipe).issues, name).toBeUndefined()
      const pictures = { frames, grain: grain === undefined ? undefined : grains.get(grain) }
      expect(grain === undefined || pictures.grain !== undefined, `grain of ${name}`).toBe(true)
      const { data } = renderListStroke(prepareBrush(pictures, recipe, INK), recipe, { width: 240, height: 48 })
      const painted = data.filter((value, i) => i % 4 === 3 && value > 12).length
      expect(painted, `${set} / ${name}`).toBeGreaterThan(60)
      const bytes = Buffer.from(data.buffer).toString('base64')
      expect(seen.get(bytes), name).toBeUndefined()
      seen.set(bytes, name)
    }
  })

  it('is drawn by seeded code: the same pixels every time', () => {
    const again = demoBrushes()
    for (const [i, { frames, recipe }] of brushes.entries()) {
      expect(again[i]?.recipe).toEqual(recipe)
      for (const [k, frame] of frames.entries())
        expect(Buffer.from(again[i]?.frames[k]?.data ?? []).equals(Buffer.from(frame.data))).toBe(true)
    }
  })

  it('has grains without a visible seam, and a rope whose repeated part closes', () => {
    for (const [name, pixels] of grains) {
      const { across, down } = measureSeamFigures(pixels)
      expect(Math.max(across, down), name).toBeLessThanOrEqual(SEAM_VISIBLE)
    }
    const rope = brushes.find(({ recipe }) => recipe.path.ribbon?.lay === 'repeated')
    const [strip] = rope?.frames ?? []
    if (!rope?.recipe.path.ribbon || !strip) throw new Error('no rope')
    expect(measureJoin(strip, rope.recipe.path.ribbon)).toBeLessThan(0.5)
  })
})

describe('words of the demo', () => {
  it('are drawn in the letters that ship: wider for more of them, on nothing, with feet standing on one line', async () => {
    const [short, long] = await Promise.all([drawWords('Ill'), drawWords('Illlllllll')])
    expect(long.width / long.height).toBeGreaterThan(2 * (short.width / short.height))
    const { width, height, data } = short
    const rows = Array.from({ length: height }, (_, y) => {
      let paint = 0
      for (let x = 0; x < width; x++) paint += (data[4 * (y * width + x) + 3] ?? 0) / 255
      return paint
    })
    const last = rows.findLastIndex((sum) => sum > 1)
    const middle = rows[Math.round(height * 0.55)] ?? 0
    // feet: the letters are widest where they stand, and stand where the line is, 1.25 of 1.75 heights down
    expect(rows[last - 4]).toBeGreaterThan(1.3 * middle)
    expect(Math.abs(last / height - 1.25 / 1.75)).toBeLessThan(0.02)
  })
})
