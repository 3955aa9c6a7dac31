import { writePng } from '@satchel/core/formats/png/write'
import { grainFromPhoto } from '@satchel/core/grain/from-photo'
import { MENDS, type Mend, mendSeams } from '@satchel/core/grain/mend'
import {
  drawGrain,
  drawsPitch,
  fittingLattice,
  fittingPitches,
  GRAIN_RULES,
  type GrainRule,
} from '@satchel/core/grain/rules'
import { measureSeam, type Seam, type SeamSide } from '@satchel/core/grain/seam'
import { checkPictureSize } from '@satchel/core/limits'
import { checkOutput, shownName, writeWhole } from './files.ts'
import { numberOf } from './numbers.ts'
import { readAnyPicture } from './photos.ts'
import { EXIT, toFileProblem, UsageError } from './problems.ts'
import { say, sayJson } from './say.ts'

type GrainOptions = {
  pitch: string
  canvas: string
  mark: string
  angle: string
  seed: string
  out?: string
  json: boolean
}

/** Draws a grain, and tells whether its pitch closes. @returns The exit code: bad where it does not close. */
export async function drawGrainFile(rule: string, options: GrainOptions): Promise<number> {
  const found = GRAIN_RULES.find((each) => each === rule)
  if (!found) throw new UsageError(`There is no grain "${rule}"; take one of ${GRAIN_RULES.join(', ')}.`)
  const wish = parse(options)
  const closing = closingOf(found, wish)
  if (options.out !== undefined)
    await writeWhole(options.out, writePng(drawGrain(found, wish)), { inputs: [], force: true })
  if (options.json) sayJson({ rule, ...wish, ...closing })
  else if (closing.closes) say('It closes: the pattern goes on over every border.')
  else
    say(
      `It does not close: ${closing.leftPx.map((px) => `${round(px)} px`).join(' across and ')} down are left over. These do: ${closing.offers.map(offerWords).join('; ')}.`,
    )
  return closing.closes ? EXIT.done : EXIT.bad
}

type Offer = { pitchPx: number; angleDeg: number }
const round = (value: number) => Math.round(value * 100) / 100
const offerWords = ({ pitchPx, angleDeg }: Offer) =>
  `pitch ${round(pitchPx)} px${angleDeg === 0 ? '' : ` at ${round(angleDeg)} degrees`}`

type Wish = { width: number; height: number; pitchPx: number; size: number; angleDeg: number; seed: number }

/** Whether a pattern goes on over the borders, what is left over, and what would. */
function closingOf(
  rule: GrainRule,
  { width, height, pitchPx, angleDeg }: Wish,
): { closes: boolean; leftPx: number[]; offers: Offer[] } {
  const leftPx = [width % pitchPx, height % pitchPx]
  // noise repeats with the tile by construction
  if (!drawsPitch(rule)) return { closes: true, leftPx: [0, 0], offers: [] }
  if (angleDeg !== 0) {
    const lattice = fittingLattice(width, pitchPx, angleDeg)
    const closes =
      width === height && Math.abs(lattice.pitchPx - pitchPx) < 1e-6 && Math.abs(lattice.angleDeg - angleDeg) < 1e-6
    return { closes, leftPx, offers: closes ? [] : [lattice] }
  }
  const isClosed = leftPx.every((left) => left < 1e-6)
  const offers = fittingPitches(width, pitchPx).filter(
    (pitch) => Math.abs(height / pitch - Math.round(height / pitch)) < 1e-6,
  )
  return { closes: isClosed, leftPx, offers: isClosed ? [] : offers.map((pitch) => ({ pitchPx: pitch, angleDeg: 0 })) }
}

function parse({ pitch, canvas, mark, angle, seed }: GrainOptions): Wish {
  const [, wide, high] = canvas.match(/^(\d{1,5})(?:x(\d{1,5}))?$/) ?? []
  const width = Number(wide)
  const height = Number(high ?? wide)
  if (!(width >= 1 && height >= 1))
    throw new UsageError(`--canvas takes a size like 1024 or 1024x512, not "${canvas}".`)
  try {
    checkPictureSize(width, height)
  } catch (error) {
    throw toFileProblem('--canvas', error)
  }
  return {
    width,
    height,
    pitchPx: numberOf('pitch', pitch, 2, 16_384),
    size: numberOf('mark', mark, 0.01, 1),
    angleDeg: numberOf('angle', angle, -180, 180),
    seed: Math.round(numberOf('seed', seed, 0, 2 ** 31 - 1)),
  }
}

type TileOptions = { out: string; side: string; evenness: string; blend: boolean; json: boolean; force: boolean }

/** Makes a grain of a photograph. @returns The exit code: bad where a seam still shows. */
export async function makeTile(file: string, options: TileOptions): Promise<number> {
  const { out, blend, json, force } = options
  checkOutput(out, [file], force)
  const { frames } = await readAnyPicture(file)
  const photo = frames[0]?.pixels
  if (!photo) throw new Error('a file without a picture')
  const wish = {
    sidePx: numberOf('side', options.side, 16, 16_384),
    evenness: numberOf('evenness', options.evenness, 0, 1),
  }
  const { crop, tile } = makeOf(file, () =>
    grainFromPhoto(photo, { ...wish, levels: true, mend: blend ? 'blend' : 'cut' }),
  )
  const seam = measureSeam(tile)
  await writeWhole(out, writePng(tile), { inputs: [file], force })
  const { width, height } = tile
  if (json) sayJson({ file: out, crop, width, height, ...toJson(seam) })
  else
    say(
      `${shownName(out)}: ${width} x ${height} px; ${sideWords('across', seam.across)}; ${sideWords('down', seam.down)}`,
    )
  return seam.across.isSeamless && seam.down.isSeamless ? EXIT.done : EXIT.bad
}

/** What is made of a file; what cannot be is told by its name. */
function makeOf<Made>(file: string, make: () => Made): Made {
  try {
    return make()
  } catch (error) {
    throw toFileProblem(shownName(file), error)
  }
}

type SeamOptions = { json: boolean; mend?: string; out?: string; force: boolean }

/** Measures, and mends, the seams of a tile. @returns The exit code: bad where a seam shows and is not mended. */
export async function measureSeamOf(file: string, { json, mend, out, force }: SeamOptions): Promise<number> {
  const way: Mend | undefined = MENDS.find((each) => each === mend)
  if (mend !== undefined && !way) throw new UsageError(`--mend takes one of ${MENDS.join(', ')}, not "${mend}".`)
  if ((way === undefined) !== (out === undefined)) throw new UsageError('--mend and --out go together.')
  if (out !== undefined) checkOutput(out, [file], force)
  const { frames } = await readAnyPicture(file)
  const tile = frames[0]?.pixels
  if (!tile) throw new Error('a file without a picture')
  const seam = measureSeam(tile)
  const mended = way && mendSeams(tile, way)
  const after = mended && measureSeam(mended)
  if (mended && out !== undefined) await writeWhole(out, writePng(mended), { inputs: [file], force })
  if (json)
    sayJson({
      file,
      ...toJson(seam),
      ...(after && mended
        ? { mended: { file: out, width: mended.width, height: mended.height, ...toJson(after) } }
        : {}),
    })
  else {
    say(`${shownName(file)}: ${sideWords('across', seam.across)}; ${sideWords('down', seam.down)}`)
    if (after) say(`${out}: ${sideWords('across', after.across)}; ${sideWords('down', after.down)}`)
  }
  const last = after ?? seam
  return last.across.isSeamless && last.down.isSeamless ? EXIT.done : EXIT.bad
}

const toJson = ({ across, down }: Seam) => ({
  across: across.figure,
  down: down.figure,
  seamlessAcross: across.isSeamless,
  seamlessDown: down.isSeamless,
  pitch: { across: pitchOf(across), down: pitchOf(down) },
})
const pitchOf = ({ pitchPx, gapPx }: SeamSide) =>
  pitchPx === undefined ? null : { px: round(pitchPx), gapPx: round(gapPx) }

function sideWords(side: string, { figure, isSeamless, pitchPx, gapPx }: SeamSide): string {
  const gap = gapPx === 0 ? '' : `, the gap ${round(Math.abs(gapPx))} px ${gapPx > 0 ? 'too wide' : 'too narrow'}`
  return `${side} ${round(figure)}, ${isSeamless ? 'cannot be seen' : 'shows'}${pitchPx === undefined ? '' : `, pitch ${round(pitchPx)} px${gap}`}`
}
