import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { defaultRecipe } from '../../core/src/brush/recipe.ts'
import { compare as compareLikeness, toComparable } from '../../core/src/compare/likeness.ts'
import { BUILT_IN } from '../../core/src/destinations/built-in.ts'
import type { FitBrush } from '../../core/src/destinations/fit-state.ts'
import { readPng } from '../../core/src/formats/png/read.ts'
import { FIT_PAPER, findBestFit, paintOriginal, readyOriginal } from '../../core/src/round-trip/round-trip.ts'
import { roundTip } from '../../core/src/testing.ts'
import { dryStroke, raggedBlob, toPbm } from '../../core/src/trace/testing.ts'
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
  const thrown = thrownBrush()
  const toEach = async (original: ReturnType<typeof readyOriginal>) => {
    for (const destination of Object.values(BUILT_IN))
      await findBestFit(thrown, destination, {}, { decoders, original })
  }
  const chance = await compare(
    () => toEach(readyOriginal(thrown)),
    () => {
      const original = paintOriginal(thrown)
      return toEach({ ...original, comparable: toComparable(original.surface, FIT_PAPER), chance: undefined })
    },
    ROUNDS,
  )
  const rows = [
    atMost(
      'cells of a brush that paints by chance, for all destinations, against comparing place by place alone',
      ms(chance.ours),
      ms(chance.reference),
      chance.ratio,
      1.5,
    ),
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
  for (const [name, picture] of [
    ['a blob of 1024 x 1024', raggedBlob()],
    ['a dry stroke of 2400 x 400', dryStroke()],
  ] as const) {
    const { cover, width, height } = picture
    const input = join(folder, 'trace.pbm')
    writeFileSync(input, toPbm(picture))
    const traced = await compare(
      () => fitOutlines(findOutlines(cover, width, height, USUAL_TRACE), USUAL_TRACE),
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

function thrownBrush(): FitBrush {
  const brush = plainBrush()
  const { path, variation } = brush.recipe
  const scatter = { acrossPct: 90, alongPct: 20 }
  return {
    ...brush,
    recipe: { ...brush.recipe, path: { ...path, scatter }, variation: { ...variation, angle: 1, size: 0.4 } },
  }
}

function plainPass(data: Uint8ClampedArray): Uint8Array {
  const out = new Uint8Array(data.length / 4)
  for (let i = 0, o = 0; o < out.length; i += 4, o++)
    out[o] = (54 * (data[i] ?? 0) + 183 * (data[i + 1] ?? 0) + 19 * (data[i + 2] ?? 0)) >> 8
  return out
}
