import { guessReading, toCoverage } from '@satchel/core/brush/coverage'
import { FILE_KINDS } from '@satchel/core/brush-file/kinds'
import { toUtf8 } from '@satchel/core/formats/text'
import {
  findOutlines,
  fitOutlines,
  overlapWith,
  sweepDetail,
  TONES_MAX,
  toTraceSvg,
  USUAL_TRACE,
} from '@satchel/core/trace/trace'
import { checkOutput, shownName, writeWhole } from './files.ts'
import { numberOf } from './numbers.ts'
import { readAnyPicture } from './photos.ts'
import { EXIT, FileProblem } from './problems.ts'
import { say, sayJson } from './say.ts'

type Options = {
  out: string
  tolerance: string
  specks: string
  tones: string
  corners: string
  json: boolean
  force: boolean
}

/** Draws what a picture covers as curves. @returns The exit code. */
export async function traceFile(file: string, { out, json, force, ...wanted }: Options): Promise<number> {
  checkOutput(out, [file], force)
  const tolerancePx = numberOf('tolerance', wanted.tolerance, 0.05, 100)
  const speckPx = numberOf('specks', wanted.specks, 0, 1_000_000)
  const tones = Math.round(numberOf('tones', wanted.tones, 1, TONES_MAX))
  const cornerDeg = numberOf('corners', wanted.corners, 0, 180)
  const read = await readAnyPicture(file)
  const [frame] = read.frames
  if (!frame) throw new FileProblem(shownName(file), 'it holds no picture.')
  const { pixels } = frame
  // the mask of an open brush counts paint; of anything else the border tells which side is paper
  const guessed = FILE_KINDS[read.kind].isBrush && pixels.channels === 1 ? 'light' : guessReading(pixels)
  const { data, width, height } = toCoverage(pixels, guessed === 'own' ? 'alpha' : guessed)
  const settings = { ...USUAL_TRACE, tolerancePx, speckPx, tones, cornerDeg }
  const { level } = settings
  const outlines = findOutlines(data, width, height, settings)
  if (outlines.tones.every(({ rings }) => rings.length === 0))
    throw new FileProblem(shownName(file), 'nothing in it is large enough to be drawn; lower --specks.')
  const traced = fitOutlines(outlines, settings)
  const svg = toTraceSvg(traced)
  await writeWhole(out, toUtf8(svg), { inputs: [file], force })
  const facts = { anchors: traced.anchors, bytes: svg.length, overlap: overlapWith(traced, data, level) }
  if (json) sayJson({ file, width, height, ...facts, others: sweepDetail(outlines, data, settings) })
  else
    say(
      `${shownName(out)}: ${facts.anchors} anchors, ${facts.bytes} bytes, overlap ${(100 * facts.overlap).toFixed(1)} %`,
    )
  return EXIT.done
}
