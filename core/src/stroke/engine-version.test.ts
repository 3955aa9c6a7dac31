import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../brush/recipe.ts'
import { STARTING_POINTS } from '../brush/starting-points.ts'
import type { PixelSha } from '../hashes.ts'
import type { Pixels } from '../raster/pixels.ts'
import { renderGauge } from '../render/render.ts'
import { ENGINE_VERSION } from './engine-version.ts'
import { prepareBrush } from './prepare-brush.ts'

/** By version of the engine, what its twenty strokes hash to. Rows of the past stay as they are. */
const GOLDEN: Record<number, string> = {
  6: '31eb74cd9eaf 05e3f28d7cf0 c6bfb47d9f14 c6bb99dbfa0d 9e7f43a22f78 7b0b7ea2520e 9e0d82fe5cb7 5e69dd0fb29f b1f44b9c5832 7212976383a5 af7c3e2c7610 83240a4e2e28 2bdfa7b28f4a f311b3b7ab90 42640cb56bad 2b93e984226e 5019e680a40b 7f5b3e4ad0e3 b569151202a4 398a4fe2a988 22c4060a5ddc',
} // biome-ignore format: one line a version

const KELP = { r: 74, g: 92, b: 42 }

/** A lopsided pebble with a vein, in grey or in colours: nothing of it is alike when mirrored or turned. */
function pebble(side: number, channels: 1 | 4): Pixels {
  const data = new Uint8Array(side * side * channels)
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const [u, v] = [(2 * x + 1 - side) / side, (2 * y + 1 - side) / side]
      const inside = 1 - u * u - v * v * 1.4 - u * v * 0.5
      const level =
        inside <= 0 || (3 * x + y) % 29 < 2 ? 0 : Math.min(255, Math.floor(300 * inside + ((x * y) % 7) * 4))
      const i = (y * side + x) * channels
      if (channels === 1) data[i] = level
      else data.set([(x * 255) / side, (y * 255) / side, 120, level], i)
    }
  }
  return { width: side, height: side, channels, data }
}

const strip: Pixels = {
  width: 90,
  height: 30,
  channels: 1,
  data: Uint8Array.from({ length: 2700 }, (_, i) => ((i % 90) * 2 + Math.floor(i / 90) * 5) % 256),
}
const tile = pebble(37, 1)

type Case = { name: string; frames: Pixels[]; change?: (recipe: Recipe) => void; reading?: 'own' | 'tone' }
const grain = (anchor: 'canvas' | 'stroke' | 'stamp', randomTurn: 'none' | 'stroke' | 'stamp', scalePct: number) => ({
  sha256: '0'.repeat(64) as PixelSha,
  anchor,
  randomTurn,
  scalePct,
  strength: 0.8,
  brightness: 0.1,
  contrast: 0.2,
})
const [GREY, COLOUR] = [[pebble(75, 1)], [pebble(50, 4), pebble(41, 4)]]
const CASES: Case[] = [
  ...STARTING_POINTS.map(({ name, apply }) => ({
    name,
    frames: GREY,
    change: (recipe: Recipe) => void Object.assign(recipe, apply(recipe)),
  })),
  { name: 'plain', frames: GREY },
  { name: 'enlarged', frames: GREY, change: (r) => void Object.assign(r.mark, { sizePx: 110 }) },
  { name: 'tiny', frames: GREY, change: (r) => void Object.assign(r.mark, { sizePx: 3.5 }) },
  { name: 'squashed and turned', frames: GREY, change: (r) => void Object.assign(r.mark, { squash: 0.4, angle: { mode: 'first', deg: 33 } }) },
  { name: 'own colours', frames: COLOUR, reading: 'own', change: (r) => void Object.assign(r.path, { nextFrame: [{ rule: 'direction', frames: 2 }] }) },
  { name: 'colours that vary', frames: COLOUR, reading: 'own', change: (r) => void Object.assign(r.variation, { hue: 0.3, saturation: 0.2, value: 0.2, size: 0.4 }) },
  { name: 'one colour that varies', frames: GREY, change: (r) => void Object.assign(r.variation, { hue: 0.3, angle: 0.2 }) },
  { name: 'tones', frames: COLOUR, reading: 'tone', change: (r) => void Object.assign(r.colour, { anchorGrey: 0.4 }) },
  { name: 'erases', frames: GREY, change: (r) => void Object.assign(r.colour, { behaviour: 'erase' }) },
  { name: 'smears', frames: GREY, change: (r) => void Object.assign(r.colour, { behaviour: 'smear' }) },
  { name: 'grain of the canvas', frames: GREY, change: (r) => void Object.assign(r.ground, { grain: grain('canvas', 'none', 70) }) },
  { name: 'grain of the stroke', frames: GREY, change: (r) => void Object.assign(r.ground, { grain: grain('stroke', 'stroke', 140) }) },
  { name: 'grain of the stamp', frames: GREY, change: (r) => void Object.assign(r.ground, { grain: grain('stamp', 'stamp', 50) }) },
  { name: 'ribbon, repeated', frames: [strip], change: (r) => void Object.assign(r.path, { ribbon: { lay: 'repeated', leadInPx: 12, leadOutPx: 9 } }) },
  { name: 'ribbon, stretched', frames: [strip], change: (r) => void Object.assign(r.path, { ribbon: { lay: 'stretched', leadInPx: 0, leadOutPx: 0 }, taper: { startPx: 30, endPx: 50, size: 0.2, opacity: 0.5 } }) },
] // biome-ignore format: one line a case

const hashOf = ({ frames, change, reading = undefined }: Case): string => {
  const recipe = defaultRecipe({ sizePx: 22, reading: reading ?? 'light' })
  change?.(recipe)
  const brush = prepareBrush({ frames, grain: tile }, recipe, KELP)
  const { data } = renderGauge(brush, recipe, {
    width: 260,
    height: 220,
    colour: KELP,
    backdrop: { r: 240, g: 236, b: 228 },
  })
  return bytesToHex(sha256(new Uint8Array(data.buffer, data.byteOffset, data.length))).slice(0, 12)
}

describe('the version of the engine', () => {
  it('is counted up when any of twenty strokes changes', () => {
    expect(CASES.length).toBeGreaterThanOrEqual(20)
    const hashes = CASES.map(hashOf)
    expect(new Set(hashes).size, 'each case paints something of its own').toBe(CASES.length)
    expect(
      hashes.join(' '),
      `strokes paint differently from version ${ENGINE_VERSION}: count ENGINE_VERSION up, and note these hashes under it`,
    ).toEqual(GOLDEN[ENGINE_VERSION])
  })
})
