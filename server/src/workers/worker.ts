import './one-picture-a-task.ts'
import { keyOfKept, printAlike } from '@satchel/core/alike/alike-print'
import { findCandidates, mayBeAlike } from '@satchel/core/alike/find-alike'
import { toCoverage } from '@satchel/core/brush/coverage'
import type { PaintReading } from '@satchel/core/brush/recipe'
import { THUMBNAIL_SIZE } from '@satchel/core/brush/thumbnail'
import { fittingKind, writeBrushFile } from '@satchel/core/brush-file/write'
import { checkPack } from '@satchel/core/check-list/check-pack'
import { measureBrush } from '@satchel/core/check-list/figures'
import { differenceOf } from '@satchel/core/compare/difference'
import { paintCoverStroke } from '@satchel/core/cover/cover'
import { describeAlike, findAlikeFrames } from '@satchel/core/frames/alike-frames'
import { editFrame, NO_EDIT } from '@satchel/core/frames/edit-frame'
import { evenOut } from '@satchel/core/frames/even-out'
import { compareFrames, describeFrames, measureFrame } from '@satchel/core/frames/measure-frames'
import { blackenShadow, findGreyShadow } from '@satchel/core/frames/shadow'
import { MENDS, mendSeams } from '@satchel/core/grain/mend'
import { measureSeamFigures, SEAM_VISIBLE, type SeamFigures } from '@satchel/core/grain/seam'
import { helpDocument } from '@satchel/core/help/help-document'
import { layOutHelp } from '@satchel/core/help/help-page'
import { markLikeness, nearestMarks } from '@satchel/core/looks/like-mark'
import { measureStrokeLook } from '@satchel/core/looks/stroke-look'
import { rankSignatures } from '@satchel/core/looks/stroke-signature'
import { rankLooks } from '@satchel/core/loose-ends/looks'
import { bringUpToDate } from '@satchel/core/pack/read-manifest'
import type { Pixels } from '@satchel/core/raster/pixels'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { type Surface, toStraightRgba } from '@satchel/core/raster/surface'
import { differenceOf as compareReleases } from '@satchel/core/releases/difference'
import { INK, renderGauge } from '@satchel/core/render/render'
import { renderSeenListStroke, renderThumbnail } from '@satchel/core/render/thumbnail'
import { FIT_PAPER, FIT_PICTURE } from '@satchel/core/round-trip/round-trip'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import { encodePng, nodePngOptions } from '@satchel/node/png'
import { decodeOne } from './decode-one.ts'
import { drawFit, drawStandIn, findBetter, measureFits, openStandIn, readStandIn, writeFit } from './fit.ts'
import { judgeAlike } from './judge-alike.ts'
import { listPack } from './list-pack.ts'
import { makeSource, openSource, previewSource, readFrame } from './make-source.ts'
import { printSheet, renderPrinted } from './print.ts'
import { openArchive, readEntries, readEntry, unpackEntry } from './read-entry.ts'
import { readExchange } from './read-exchange.ts'
import { readReturned } from './read-returned.ts'
import { readThumbnail } from './read-thumbnail.ts'
import { readTip, toReadFrame } from './read-tip.ts'
import { printPicture, signPicture } from './read-wanted.ts'
import { orRefused } from './refused.ts'
import type { Side } from './results.ts'
import { stackFrames } from './stack-pictures.ts'
import type { Tasks } from './tasks.ts'

async function decodeAll({ frames, grain }: { frames: Uint8Array[]; grain?: Uint8Array | undefined }) {
  return { frames: await Promise.all(frames.map(decodeOne)), grain: grain && (await decodeOne(grain)) }
}

const tasks: Tasks = {
  renderPrinted: async ({ recipe, what, ...pictures }) =>
    encodePng(renderPrinted(await decodeAll(pictures), recipe, what)),
  printSheet,

  async paintCover({ plan, brushes }) {
    const strokes = []
    for (const [i, { recipe, ...pictures }] of brushes.entries()) {
      const stroke = plan.strokes[i]
      if (stroke) strokes.push(encodePng(toStraightRgba(paintCoverStroke(await decodeAll(pictures), recipe, stroke))))
    }
    return (await import('@satchel/node/cover/compose-cover')).composeCover(plan, strokes)
  },

  cropCover: ({ bytes, crop }) =>
    orRefused(async () => ({
      png: await (await import('@satchel/node/cover/compose-cover')).cropCover(bytes, crop),
    })),

  // what knows the tables is loaded where a library comes back: most processes never see one
  unpackLibrary: async (input) => orRefused(async () => (await import('./unpack-library.ts')).unpackLibrary(input)),

  async layOutTexts({ texts }) {
    return texts.map(layOutHelp)
  },

  async writeHelp(input) {
    return helpDocument(input)
  },

  readTip,

  readListing: readExchange,
  listPack,
  keysOfMarks: async ({ marks }) => marks.map(keyOfKept),
  readEntry,
  readEntries,
  openArchive,
  unpackEntry,

  async findCandidates({ keys, from }) {
    return findCandidates(keys, from)
  },

  async filterAlike({ pairs }) {
    return pairs.map(([mark, original]) => mayBeAlike(mark, original))
  },

  judgeAlike,

  async printAlike({ png, reading }) {
    return printAlike(await decodeOne(png), reading)
  },

  async rankLooks({ wanted, candidates }) {
    return rankLooks(wanted, candidates)
  },

  async measureLook({ recipe, ...pictures }) {
    return measureStrokeLook(await decodeAll(pictures), recipe)
  },

  printPicture,
  signPicture,

  async nearestMarks({ wanted, keys, most }) {
    return nearestMarks(wanted, keys, most)
  },

  async markLikeness({ wanted, candidates }) {
    return markLikeness(wanted, candidates)
  },

  async strokeLikeness({ wanted, candidates, most }) {
    return rankSignatures(wanted, candidates, most)
  },

  async measureSeam({ png }) {
    return measureSeamFigures(await decodeOne(png))
  },

  async compareFrames({ frames, reading }) {
    const pictures = await Promise.all(frames.map(decodeOne))
    const facts = pictures.map((picture) => measureFrame(picture, reading))
    const standings = compareFrames(facts)
    return {
      standings,
      hues: facts.map(({ hueDeg }) => hueDeg ?? null),
      shadows: pictures.map((picture) => isShaded(reading) && findGreyShadow(picture) !== undefined),
      sentences: describeFrames(standings),
      alike: describeAlike(findAlikeFrames(pictures, reading)),
    }
  },

  changeFrames: ({ frames, reading, edits, even, blacken }) =>
    orRefused(async () => {
      const edited = new Map(edits.map(({ at, edit }) => [at, edit]))
      const pictures = (await Promise.all(frames.map(decodeOne))).map((picture, i) =>
        editFrame(picture, reading, edited.get(i) ?? NO_EDIT),
      )
      const lit = blacken && isShaded(reading) ? pictures.map(withBlackShadow) : pictures
      const changed = even ? evenOut(lit, reading, even) : lit
      return {
        frames: changed.map((picture) => toReadFrame(picture)),
        alike: changed[0] && printAlike(changed[0], reading),
      }
    }),

  readFrame,

  stackFrames,

  async shrink({ png, sidePx }) {
    const pixels = await decodeOne(png)
    const { width, height } = fitSize(pixels.width, pixels.height, sidePx)
    return toReadFrame(shrinkPixels(pixels, width, height))
  },

  async renderStroke({ frames, grain, recipe, width, height, what }) {
    const brush = prepareBrush(await decodeAll({ frames, grain }), recipe, INK)
    const surface = (what === 'list' ? renderSeenListStroke : renderGauge)(brush, recipe, { width, height })
    return encodePng(toStraightRgba(surface))
  },

  async compareReleases({ before, after }) {
    const read = ({ manifestText, ...side }: Side) => ({ ...side, manifest: bringUpToDate(JSON.parse(manifestText)) })
    return compareReleases(read(before), read(after))
  },

  async checkPack(subject) {
    return checkPack(subject)
  },

  async measureBrush({ recipe, thumbnail, ...pictures }) {
    return measureBrush({ ...(await decodeAll(pictures)), recipe, thumbnail })
  },

  async closeSeam({ png }) {
    const tile = await decodeOne(png)
    const closed = MENDS.map((mend) => mendSeams(tile, mend)).map((pixels) => ({
      pixels,
      seam: measureSeamFigures(pixels),
    }))
    const most = ({ seam }: { seam: SeamFigures }) => Math.max(seam.across, seam.down)
    const [best] = closed.sort((a, b) => most(a) - most(b))
    if (!best || most(best) > SEAM_VISIBLE)
      return { refused: 'None of the ways to close a seam hides this one; draw over it under Grains.' }
    return { frame: toReadFrame(best.pixels), seam: best.seam }
  },

  async drawChange({ before, after }) {
    const paint = async ({ recipe, ...pictures }: typeof before) =>
      renderGauge(prepareBrush(await decodeAll(pictures), recipe, INK), recipe, { ...FIT_PICTURE, backdrop: FIT_PAPER })
    const [was, is] = [await paint(before), await paint(after)]
    const png = (surface: Surface) => encodePng(toStraightRgba(surface))
    return { before: png(was), after: png(is), difference: png(differenceOf(was, is)) }
  },

  async renderThumbnail({ frames, grain, recipe, frame }) {
    return encodePng(renderThumbnail(await decodeAll({ frames, grain }), recipe, { ...THUMBNAIL_SIZE, frame }))
  },

  readReturned,
  readThumbnail,

  measureFits,
  drawFit,
  writeFit,
  readStandIn,
  findBetter,
  openStandIn,
  drawStandIn,

  openSource,
  previewSource,
  makeSource,

  /** A tip as it will stamp, black on nothing, or in its own colours. */
  async renderTip({ png, reading, sidePx }) {
    const pixels = await decodeOne(png)
    const { width, height } = fitSize(pixels.width, pixels.height, sidePx)
    const small = shrinkPixels(
      reading === 'own' || reading === 'tone' ? pixels : toCoverage(pixels, reading),
      width,
      height,
    )
    return encodePng(small.channels === 4 ? small : { ...small, channels: 4, data: inkOf(small.data) })
  },

  async openFiles({ name, maker, licence, recipe, frames, frameNames, keys }) {
    const details = { maker, licence, frameNames, keys }
    const brush = { name, recipe, frames: await Promise.all(frames.map(decodeOne)), details }
    const extension = fittingKind(frames.length)
    return {
      png: writeBrushFile('png', brush, nodePngOptions).bytes,
      brush: writeBrushFile(extension, brush).bytes,
      extension,
    }
  },
}

/** Readings in which a grey shadow takes on a colour, or lies beside colours. */
const isShaded = (reading: PaintReading) => reading === 'tone' || reading === 'own'

function withBlackShadow(picture: Pixels): Pixels {
  const shadow = findGreyShadow(picture)
  return shadow ? blackenShadow(picture, shadow) : picture
}

function inkOf(coverage: Uint8Array): Uint8Array {
  const out = new Uint8Array(coverage.length * 4)
  for (let i = 0; i < coverage.length; i++) out[i * 4 + 3] = coverage[i] ?? 0
  return out
}

/** Does the task that the pool names; see `pool.ts`. @param tell Told what share of it is done, from 0 to 1000. */
export default function run({
  task,
  input,
  tell = () => undefined,
}: {
  task: keyof Tasks
  input: never
  tell?: (share: number) => void
}): Promise<unknown> {
  return (tasks[task] as (input: unknown, tell: (share: number) => void) => Promise<unknown>)(input, tell)
}
