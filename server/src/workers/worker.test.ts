import { judgePictures, type LayTip } from '@satchel/core/alike/find-alike'
import { layMark } from '@satchel/core/alike/mark'
import { defaultRecipe } from '@satchel/core/brush/recipe'
import { readGbr } from '@satchel/core/formats/gbr/read'
import { readGih } from '@satchel/core/formats/gih/read'
import { readPng } from '@satchel/core/formats/png/read'
import { encodePng } from '@satchel/node/png'
import { describe, expect, it } from 'vitest'
import { blot, blotPng, pixelName, ropeStrip, waveTile } from '../testing/tips.ts'
import type { Tasks } from './tasks.ts'
import run from './worker.ts'

/** A task as the pool would run it, without the thread. */
const task = <Name extends keyof Tasks>(name: Name, input: Parameters<Tasks[Name]>[0]) =>
  run({ task: name, input: input as never }) as ReturnType<Tasks[Name]>

const firstPicture = (png: Uint8Array) => {
  const [frame] = readPng(png).frames
  if (!frame) throw new Error('no picture')
  return frame.pixels
}

describe('what the processes of the pool do', () => {
  it('reads a picture: reading, size, names of file and pixels, and what it is for', async () => {
    const tip = await task('readTip', { bytes: blotPng(3) })
    if (tip.outcome !== 'tip') throw new Error('no tip')
    expect([tip.kind, tip.use, tip.recipe.colour.reading, tip.recipe.mark.sizePx]).toEqual(['png', 'tip', 'dark', 48])
    expect(tip.frames[0]).toMatchObject({ width: 48, height: 48, pixelSha: tip.pixelKey })
    const grain = await task('readTip', { bytes: encodePng(waveTile()) })
    expect(grain).toMatchObject({ outcome: 'tip', use: 'grain' })
    expect(await task('readTip', { bytes: encodePng(ropeStrip()) })).toMatchObject({ use: 'strip' })
    expect(await task('readTip', { bytes: blotPng(3).subarray(0, 70) })).toMatchObject({ outcome: 'refused' })
    expect(await task('readTip', { bytes: new Uint8Array(40) })).toMatchObject({ outcome: 'foreign' })
  })

  it('judges a pair as its pictures do, whatever was judged before by the same pictures', async () => {
    const tips = [blotPng(3), blotPng(4), encodePng(blot(3, 96))].flatMap((png) =>
      (['dark', 'light'] as const).map((reading) => ({ png, reading })),
    )
    const layAnew =
      ({ png, reading }: (typeof tips)[number]): LayTip =>
      async (side) =>
        layMark(firstPicture(png), reading, side)
    const outcomes = new Set<string>()
    for (const tip of tips)
      for (const original of tips) {
        const judged = await task('judgeAlike', { tip, original })
        expect(judged).toEqual(await judgePictures(layAnew(tip), layAnew(original)))
        outcomes.add(JSON.stringify(judged) ?? 'not alike')
      }
    // the pairs do not all come to the same, so that a mark kept under another's name would be seen
    expect(outcomes.size).toBeGreaterThan(2)
  })

  it('shrinks a picture to the side that is asked for, in its proportions, and names its pixels anew', async () => {
    const wide = { ...blot(4, 200), height: 100, data: blot(4, 200).data.subarray(0, 200 * 100) }
    const small = await task('shrink', { png: encodePng(wide), sidePx: 50 })
    expect([small.width, small.height]).toEqual([50, 25])
    expect(firstPicture(small.png)).toMatchObject({ width: 50, height: 25 })
  })

  it('shows a tip as it paints: black with coverage as alpha, or in its own colours', async () => {
    const picture = firstPicture(await task('renderTip', { png: blotPng(5), reading: 'dark', sidePx: 48 }))
    const source = blot(5)
    expect(picture.channels).toBe(4)
    for (const at of [0, 500, 1200, 2000]) {
      expect(picture.data[at * 4]).toBe(0)
      expect(picture.data[at * 4 + 3]).toBe(255 - (source.data[at] ?? 0))
    }
    const own = { width: 2, height: 1, channels: 4 as const, data: Uint8Array.of(200, 30, 40, 255, 10, 90, 200, 128) }
    expect(firstPicture(await task('renderTip', { png: encodePng(own), reading: 'own', sidePx: 48 })).data).toEqual(
      own.data,
    )
  })

  it('paints strokes with and without grain; the same wish gives the same bytes', async () => {
    const recipe = defaultRecipe({ sizePx: 30 })
    const wish = { frames: [blotPng(6)], recipe, width: 200, height: 40, what: 'list' as const }
    const plain = await task('renderStroke', wish)
    expect(Buffer.from(await task('renderStroke', wish)).equals(Buffer.from(plain))).toBe(true)
    const grained = structuredClone(recipe)
    grained.ground.grain = {
      sha256: pixelName('a'),
      anchor: 'canvas',
      scalePct: 50,
      strength: 1,
      brightness: 0,
      contrast: 0,
      randomTurn: 'none',
    }
    const withGrain = await task('renderStroke', { ...wish, recipe: grained, grain: encodePng(waveTile()) })
    expect(Buffer.from(withGrain).equals(Buffer.from(plain))).toBe(false)
    expect(firstPicture(await task('renderStroke', { ...wish, width: 300, height: 200, what: 'gauge' }))).toMatchObject(
      { width: 300, height: 200 },
    )
  })

  it('writes open files: one picture as GBR, several as GIH, with maker and licence in the PNG', async () => {
    const brush = {
      name: 'Tuft',
      maker: 'Ida',
      licence: 'CC0-1.0',
      recipe: defaultRecipe({ sizePx: 48 }),
      frameNames: [],
      keys: [],
    }
    const one = await task('openFiles', { ...brush, frames: [blotPng(7)] })
    expect(one.extension).toBe('gbr')
    expect(readGbr(one.brush)).toMatchObject({ name: 'Tuft', width: 48 })
    expect(readPng(one.png).text).toMatchObject({ Author: 'Ida', Copyright: 'CC0-1.0' })
    const recipe = defaultRecipe({ sizePx: 48, frames: 2 })
    const two = await task('openFiles', { ...brush, recipe, frames: [blotPng(7), blotPng(8)] })
    expect(two.extension).toBe('gih')
    expect(readGih(two.brush).brush.frames.length).toBe(2)
  })
})
