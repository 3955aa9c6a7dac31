import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import { compare as compareLikeness, toComparable } from '../../core/src/compare/likeness.ts'
import { BUILT_IN } from '../../core/src/destinations/built-in.ts'
import type { FitBrush } from '../../core/src/destinations/fit-state.ts'
import { readPng } from '../../core/src/formats/png/read.ts'
import { FIT_PAPER, findBestFit, paintOriginal } from '../../core/src/round-trip/round-trip.ts'
import { createRandom } from '../../core/src/stroke/path/random.ts'
import { roundTip } from '../../core/src/testing.ts'
import { findOutlines, fitOutlines, USUAL_TRACE } from '../../core/src/trace/trace.ts'
import { compare } from './rounds.ts'
import { atMost, ms, type Row } from './rows.ts'

const ROUNDS = 7

/** Comparing, tracing and sending brushes, each beside something outside. */
export async function fitRows(folder: string): Promise<Row[]> {
  const brush = plainBrush()
  const { surface } = paintOriginal(brush)
  const plain = () => plainPass(surface.data)
  const one = toComparable(surface, FIT_PAPER)
  const likeness = await compare(() => compareLikeness(one, toComparable(surface, FIT_PAPER)), plain, ROUNDS)
  const decoders = { png: async (bytes: Uint8Array) => readPng(bytes).frames.map(({ pixels }) => pixels) }
  const cell = await compare(
    () => findBestFit(brush, BUILT_IN.shearwater, {}, { decoders }),
    () => paintOriginal(brush),
    ROUNDS,
  )
  const rows = [
    atMost(
      'likeness of a pair of 480 x 300 against a plain pass over its pixels',
      ms(likeness.ours),
      ms(likeness.reference),
      likeness.ratio,
      Number.POSITIVE_INFINITY,
    ),
    atMost(
      'a cell: planned, written, read, painted, compared, against painting the gauge strokes',
      ms(cell.ours),
      ms(cell.reference),
      cell.ratio,
      Number.POSITIVE_INFINITY,
    ),
  ]
  for (const [name, width, height, cover] of [
    ['a blob of 1024 x 1024', 1024, 1024, blob(1024)],
    ['a dry stroke of 2400 x 400', 2400, 400, dryStroke(2400, 400)],
  ] as const) {
    const input = join(folder, 'trace.pbm')
    writeFileSync(input, toPbm(cover, width, height))
    const traced = await compare(
      () => fitOutlines(findOutlines(cover, width, height, USUAL_TRACE), USUAL_TRACE.tolerancePx),
      () => execFileSync('/usr/bin/potrace', ['-s', '-t', '4', '-o', join(folder, 'trace.svg'), input]),
      ROUNDS,
    )
    rows.push(atMost(`tracing ${name} against potrace`, ms(traced.ours), ms(traced.reference), traced.ratio, 2))
  }
  return rows
}

function plainBrush(): FitBrush {
  const recipe = defaultRecipe({ sizePx: 40, reading: 'light' })
  return { name: 'Dot', set: 'Dots', maker: '', licence: '', frames: [roundTip(161)], recipe }
}

function plainPass(data: Uint8ClampedArray): Uint8Array {
  const out = new Uint8Array(data.length / 4)
  for (let i = 0, o = 0; o < out.length; i += 4, o++)
    out[o] = (54 * (data[i] ?? 0) + 183 * (data[i + 1] ?? 0) + 19 * (data[i + 2] ?? 0)) >> 8
  return out
}

/** Smooth noise, 0…1. */
function field(cell: number, seed: number): (x: number, y: number) => number {
  const random = createRandom(seed)
  const side = 400
  const grid = Float32Array.from({ length: side * side }, () => random())
  const ease = (t: number) => t * t * (3 - 2 * t)
  return (x, y) => {
    const [gx, gy] = [Math.floor(x / cell), Math.floor(y / cell)]
    const [u, v] = [ease(x / cell - gx), ease(y / cell - gy)]
    const at = (dx: number, dy: number) => grid[((gy + dy) % side) * side + ((gx + dx) % side)] ?? 0
    return (at(0, 0) * (1 - u) + at(1, 0) * u) * (1 - v) + (at(0, 1) * (1 - u) + at(1, 1) * u) * v
  }
}

function blob(side: number): Uint8Array {
  const [large, small] = [field(90, 1), field(14, 2)]
  return fill(side, side, (x, y) => {
    const away = Math.hypot(x - side / 2, y - side / 2) / (side / 2)
    return large(x, y) * 0.7 + small(x, y) * 0.35 - away * 0.9 + 0.25 > 0
  })
}

function dryStroke(width: number, height: number): Uint8Array {
  const [a, b, c] = [field(40, 3), field(7, 4), field(8.5, 5)]
  return fill(width, height, (x, y) => {
    const away = Math.abs(y - height / 2 - 30 * Math.sin(x / 200)) / (height * 0.36)
    return away < 1 && a(x, y) * 0.3 + b(x, y) * 0.5 + c(x, y) * 0.35 > 0.35 + 0.5 * away * away
  })
}

const fill = (width: number, height: number, isSet: (x: number, y: number) => boolean) =>
  Uint8Array.from({ length: width * height }, (_, i) => (isSet(i % width, Math.floor(i / width)) ? 255 : 0))

function toPbm(cover: Uint8Array, width: number, height: number): Uint8Array {
  const across = Math.ceil(width / 8)
  const bits = new Uint8Array(across * height)
  for (const [i, value] of cover.entries()) {
    const at = Math.floor(i / width) * across + ((i % width) >> 3)
    if (value) bits[at] = (bits[at] ?? 0) | (128 >> ((i % width) & 7))
  }
  return Buffer.concat([Buffer.from(`P4\n${width} ${height}\n`), bits])
}
