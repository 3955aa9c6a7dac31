import { BUILT_IN } from '@satchel/core/destinations/built-in'
import type { StandInName } from '@satchel/core/destinations/destination'
import type { PixelSha } from '@satchel/core/hashes'
import { findBestFit } from '@satchel/core/round-trip/round-trip'
import { demoBrushes } from '@satchel/drawn/demo/brushes'
import { demoGrains } from '@satchel/drawn/demo/grains'
import { nodeHashBytes } from '@satchel/node/hash'
import { nodePngOptions } from '@satchel/node/png'
import { standInDecoders } from '@satchel/node/stand-in-decoders'
import { expect, it } from 'vitest'

/** Twelve brushes that paint by chance and what they became, from most to least alike, as a person put them. */
const ORDER: readonly (readonly [name: string, to: StandInName])[] = [
  ['Nest lining', 'dunlin'],
  ['Powder down', 'dunlin'],
  ['Shell grit', 'dunlin'],
  ['Down dense', 'dunlin'],
  ['Pebbles', 'turnstone'],
  ['Wrack tangle', 'turnstone'],
  ['Tuft turning', 'shearwater'],
  ['Drift line', 'turnstone'],
  ['Down wisps', 'turnstone'],
  ['Sea lettuce', 'shearwater'],
  ['Tellin pink', 'shearwater'],
  ['Mussel bed', 'turnstone'],
]

it('likeness puts twelve pairs nearly in the order in which a person put them', { timeout: 120_000 }, async () => {
  const [brushes, grains] = [demoBrushes(), demoGrains()]
  const scores: number[] = []
  for (const [name, to] of ORDER) {
    const drawn = brushes.find((each) => each.name === name)
    const destination = BUILT_IN[to]
    if (!drawn) throw new Error(`no ${name} to ${to}`)
    const pixels = drawn.recipe.ground.grain && grains.get(drawn.grain ?? '')
    const ground = drawn.recipe.ground.grain && {
      grain: { ...drawn.recipe.ground.grain, sha256: 'a'.repeat(64) as PixelSha },
    }
    const brush = {
      ...drawn,
      maker: '',
      licence: '',
      grain: pixels && { name: drawn.grain ?? '', pixels },
      recipe: { ...drawn.recipe, ground: ground ?? {} },
    }
    const { deflate, crc32 } = nodePngOptions
    const options = {
      ...(deflate && { deflate }),
      ...(crc32 && { crc32 }),
      hash: nodeHashBytes,
      decoders: standInDecoders,
    }
    scores.push((await findBestFit(brush, destination, {}, options)).likeness.score)
  }
  // Kendall's rank correlation (1938): pairs of pairs in the same order, less those in the other, of all
  const pairs = scores.flatMap((score, i) => scores.slice(i + 1).map((other) => Math.sign(score - other)))
  const tau = pairs.reduce((sum, each) => sum + each, 0) / pairs.length
  expect(tau, scores.map((score) => score.toFixed(0)).join(' ')).toBeGreaterThan(0.6)
  expect(scores[0]).toBeGreaterThan(90)
  expect(scores.at(-3)).toBeLessThan(65)
})
