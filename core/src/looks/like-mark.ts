import { type AlikePrint, decodeKeys, printAlike } from '../alike/alike-print.ts'
import { findTurn } from '../alike/compare-marks.ts'
import { everyWay, KEY_LENGTH, KEY_RATIO, KEY_TONE } from '../alike/key.ts'
import type { Mark } from '../alike/mark.ts'
import { decodeMark } from '../alike/mark-bytes.ts'
import { createPixels, type Pixels } from '../raster/pixels.ts'
import { cutPaint } from './cut-paint.ts'

/** A place among candidates, and how like the wanted it is, 100 the same … 0 nothing in common. */
export type Likeness = { at: number; likeness: number }

/**
 * What a picture is looked for by: as paint in its own colours, by its silhouette alone, and by how dark it is. The same drawing
 * may lie in a library in any of these ways. Those that paint nothing are left out.
 */
export function printsOfPicture(pixels: Pixels): AlikePrint[] {
  const paint = cutPaint(pixels)
  const { width, height } = paint
  const [silhouette, dark] = [createPixels(width, height, 1), createPixels(width, height, 1)]
  for (let i = 0; i < width * height; i++) {
    const [r, g, b, alpha] = paint.data.subarray(4 * i, 4 * i + 4)
    silhouette.data[i] = alpha
    dark.data[i] = Math.round((alpha * (255 - (r + g + b) / 3)) / 255)
  }
  const prints = [printAlike(paint, 'own'), printAlike(silhouette, 'light'), printAlike(dark, 'light')]
  return prints.filter(({ key }) => key.length > 0)
}

/**
 * Which of many marks look most like a wanted one, by the signs of their waves: turned by quarters, mirrored, inverted. Tones
 * count where both have any. It tells those that are worth a closer look.
 *
 * @param wanted The keys of what is wanted. @param keys Those of all others, joined.
 * @param most How many to tell. @returns The nearest first.
 */
export function nearestMarks(
  wanted: readonly Uint8Array[],
  keys: Uint8Array,
  most: number,
): { at: number; distance: number }[] {
  const ways = wanted.flatMap((key) => everyWay(decodeKeys(key)).map(toWay))
  const others = new Int8Array(keys.buffer, keys.byteOffset, keys.length)
  const found: { at: number; distance: number }[] = []
  let farthest = Number.POSITIVE_INFINITY
  for (let at = 0, base = 0; base < others.length; at++, base += KEY_LENGTH) {
    const distance = nearestOf(ways, others, base, farthest)
    if (distance >= farthest) continue
    found.push({ at, distance })
    // cut back now and then: what is kept stays short, and is sorted seldom
    if (found.length >= 2 * most) {
      found.sort((a, b) => a.distance - b.distance)
      found.length = most
      farthest = found[most - 1].distance
    }
  }
  return found.sort((a, b) => a.distance - b.distance).slice(0, most)
}

/** One way in which a wanted mark may be laid, in the steps of kept keys. */
type Way = { key: Int16Array; hasTone: boolean }
const KEY_STEPS = 127
const toWay = (key: Float32Array): Way => ({
  key: Int16Array.from(key, (value) => Math.round(value * KEY_STEPS)),
  hasTone: key.subarray(KEY_TONE, KEY_RATIO).some((value) => value !== 0),
})

/** The least distance of a key from any of the ways, in squared steps; or something beyond `most`, where all are. */
function nearestOf(ways: readonly Way[], keys: Int8Array, base: number, most: number): number {
  let hasTone = false
  for (let i = KEY_TONE; i < KEY_RATIO && !hasTone; i++) hasTone = keys[base + i] !== 0
  let best = most
  for (const way of ways) {
    const { key } = way
    const both = hasTone && way.hasTone
    // tones count where both have any: then the mean of both parts
    const bound = both ? 2 * best : best
    let sum = (key[KEY_RATIO] - keys[base + KEY_RATIO]) ** 2
    for (let i = 0; i < KEY_TONE; i++) {
      const off = key[i] - keys[base + i]
      sum += off * off
    }
    if (sum >= bound) continue
    if (both) {
      for (let i = KEY_TONE; i < KEY_RATIO; i++) {
        const off = key[i] - keys[base + i]
        sum += off * off
      }
      sum /= 2
    }
    if (sum < best) best = sum
  }
  return best
}

/**
 * How like marks are to a wanted one once they are turned and laid over it.
 * @param wanted, candidates Kept marks (`printAlike`); an empty one looks like nothing.
 */
export function markLikeness(wanted: readonly Uint8Array[], candidates: readonly Uint8Array[]): Likeness[] {
  const originals = wanted.flatMap((bytes) => (bytes.length > 0 ? [decodeMark(bytes)] : []))
  if (originals.length === 0) return []
  // a drawing from the hand is like a mark in its masses sooner than in its edges
  const coarsened = originals.map(coarsen)
  return candidates
    .flatMap((bytes, at): Likeness[] => {
      if (bytes.length === 0) return []
      const mark = decodeMark(bytes)
      const coarse = coarsen(mark)
      const likeness = originals.map((original, i) => {
        // long marks are laid on squares: two that agree there are no more alike than their proportions are
        const ratio = Math.abs(lengthOf(original) - lengthOf(mark))
        const fine = findTurn(original, mark).score
        const rough = findTurn(coarsened[i], coarse).score
        return 100 * Math.max(0, (fine + rough) / 2) * Math.exp(-ratio)
      })
      return [{ at, likeness: Math.max(0, ...likeness) }]
    })
    .sort((a, b) => b.likeness - a.likeness)
}

/** How far a mark is blurred for its masses: two boxes of so many places to each side. */
const BLUR_PLACES = 2

function coarsen(mark: Mark): Mark {
  const blurred = (grid: Float32Array) => blurAlong(blurAlong(grid, mark.side, 1), mark.side, mark.side)
  return { ...mark, shape: blurred(blurred(mark.shape)), tone: mark.tone && blurred(blurred(mark.tone)) }
}

/** Means of neighbours along rows (a step of 1) or columns (a step of `side`); none lie beyond the edge. */
function blurAlong(grid: Float32Array, side: number, step: number): Float32Array {
  const across = step === 1 ? side : 1
  const out = new Float32Array(grid.length)
  for (let line = 0; line < side; line++) {
    for (let at = 0; at < side; at++) {
      const [from, to] = [Math.max(0, at - BLUR_PLACES), Math.min(side - 1, at + BLUR_PLACES)]
      let sum = 0
      for (let each = from; each <= to; each++) sum += grid[line * across + each * step]
      out[line * across + at * step] = sum / (2 * BLUR_PLACES + 1)
    }
  }
  return out
}

/** How many times longer than broad a mark is, as ln. */
const lengthOf = ({ widthPx, heightPx }: { widthPx: number; heightPx: number }) =>
  Math.abs(Math.log(widthPx / heightPx))
