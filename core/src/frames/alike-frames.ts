import { toCoverage } from '../brush/coverage.ts'
import type { PaintReading } from '../brush/recipe.ts'
import type { Pixels } from '../raster/pixels.ts'
import { shrinkPixels } from '../raster/resample.ts'
import { measureFrame } from './measure-frames.ts'

/** Frames are looked at so small, as a stroke shows them: what differs less is not seen in it. */
const SIDE_PX = 24
/** The mean difference of two frames, of 255, below which nobody tells them apart in a stroke; chosen by eye. */
const ALIKE_BELOW = 7

/**
 * Groups of frames that look the same in a stroke, by their places: their marks, each fitted to the same square, hardly
 * differ from the first one's. A mark that is only moved or scaled is the same mark.
 */
export function findAlikeFrames(frames: readonly Pixels[], reading: PaintReading): number[][] {
  const marks = frames.map((frame) => toSquare(frame, reading))
  const groups: number[][] = []
  for (const [place, mark] of marks.entries()) {
    if (!mark) continue
    const group = groups.find(([first]) => isNear(marks[first] as Pixels, mark))
    if (group) group.push(place)
    else groups.push([place])
  }
  return groups.filter(({ length }) => length > 1)
}

/** What a frame shows inside the box of its mark, small and square; undefined where nothing paints. */
function toSquare(frame: Pixels, reading: PaintReading): Pixels | undefined {
  const { box } = measureFrame(frame, reading)
  if (!box) return undefined
  const { channels, data, width: stride } = toCoverage(frame, reading)
  const width = box.right - box.left
  const height = box.bottom - box.top
  const cut: Pixels = { width, height, channels, data: new Uint8Array(width * height * channels) }
  for (let y = 0; y < height; y++) {
    const from = ((box.top + y) * stride + box.left) * channels
    cut.data.set(data.subarray(from, from + width * channels), y * width * channels)
  }
  return shrinkPixels(cut, Math.min(SIDE_PX, width), Math.min(SIDE_PX, height))
}

function isNear(a: Pixels, b: Pixels): boolean {
  if (a.width !== b.width || a.height !== b.height || a.channels !== b.channels) return false
  let sum = 0
  for (let i = 0; i < a.data.length; i++) {
    // colours count as much as they are seen
    const isAlpha = a.channels === 1 || i % 4 === 3
    const weight = isAlpha ? 1 : Math.min(a.data[i | 3], b.data[i | 3]) / 255
    sum += Math.abs(a.data[i] - b.data[i]) * weight
  }
  return sum / a.data.length < ALIKE_BELOW
}

/** A group in words: "frames 2 and 5 look the same in a stroke". */
export const describeAlike = (groups: readonly (readonly number[])[]): string[] =>
  groups.map((group) => {
    const numbers = group.map((place) => place + 1)
    return `frames ${numbers.slice(0, -1).join(', ')} and ${numbers.at(-1)} look the same in a stroke`
  })
