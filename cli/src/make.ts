import { join } from 'node:path'
import { toCoverage } from '@satchel/core/brush/coverage'
import { writePng } from '@satchel/core/formats/png/write'
import { toUtf8 } from '@satchel/core/formats/text'
import { finish } from '@satchel/core/make/finish'
import { type Made, makeAll } from '@satchel/core/make/make-all'
import { layersOf, type Opened, toOpened } from '@satchel/core/make/opened'
import type { Ornament } from '@satchel/core/make/ornament/repeat-around'
import type { Steps } from '@satchel/core/make/step-kinds'
import { parseSteps } from '@satchel/core/make/steps'
import { guessPlan, type Plan, type Way, whatIsWanted } from '@satchel/core/make/ways'
import { layerAlone } from '@satchel/core/raster/compose-layers'
import { toOutlineSvg } from '@satchel/core/trace/outline'
import { checkOutput, makeFolder, parseText, shownName, writeWhole } from './files.ts'
import { numberOf } from './numbers.ts'
import { readAnyPicture } from './photos.ts'
import { EXIT, FileProblem, UsageError } from './problems.ts'
import { say, sayJson, warn } from './say.ts'

/** @throws {FileProblem} If it cannot be read, or the way wants another kind of file. */
async function open(file: string, way: Way): Promise<Opened> {
  const read = await readAnyPicture(file)
  for (const warning of read.warnings) warn(`${shownName(file)}: ${warning}`)
  const opened = toOpened(read)
  const wanted = whatIsWanted(way, opened)
  if (wanted !== undefined) throw new FileProblem(shownName(file), `this wants ${wanted}.`)
  return opened
}

/** Makes one tip of a picture. @returns The exit code. */
export async function makeTipFile(
  file: string,
  { out, steps: stepsFile, json, force }: { out: string; steps?: string; json: boolean; force: boolean },
): Promise<number> {
  checkOutput(out, [file, stepsFile ?? ''], force)
  const opened = await open(file, 'picture')
  const steps = stepsFile === undefined ? guessPlan('picture', opened).steps : await loadSteps(stepsFile)
  const { parts } = finish(makeAll(opened, { way: 'picture', steps }))
  const [tip] = parts
  if (!tip) throw new Error('a picture gave no tip')
  await writeWhole(out, writePng(tip.pixels), { inputs: [file], force })
  const { width, height } = tip.pixels
  if (json) sayJson({ file, width, height, reading: tip.reading, steps })
  else {
    say(`${shownName(out)}: ${width} x ${height} px, ${tip.reading} paints`)
    for (const { kind, on, settings } of steps) say(`  ${on ? kind : `${kind} (left out)`} ${JSON.stringify(settings)}`)
  }
  return EXIT.done
}

const loadSteps = (file: string): Promise<Steps> =>
  parseText(file, (read) =>
    parseSteps(typeof read === 'object' && read !== null && 'steps' in read ? read.steps : read),
  )

/** Cuts a sheet into its things. @returns The exit code. */
export async function splitSheet(
  file: string,
  { out, gap, order, json }: { out: string; gap?: string; order: string; json: boolean },
): Promise<number> {
  if (order !== 'rows' && order !== 'size') throw new UsageError(`--order takes rows or size, not "${order}".`)
  const gapPx = gap === undefined ? undefined : Number(gap)
  if (gapPx !== undefined && !(gapPx >= 0 && gapPx <= 1000))
    throw new UsageError(`--gap takes 0 to 1000 px, not "${gap}".`)
  const opened = await open(file, 'sheet')
  const plan = guessPlan('sheet', opened)
  if (plan.way !== 'sheet') throw new Error('the plan of a sheet is another')
  const wish: Plan = { ...plan, objects: { ...plan.objects, order, gapPx: gapPx ?? plan.objects.gapPx } }
  const made = finish(makeAll(opened, wish))
  if (made.parts.length === 0) throw new FileProblem(shownName(file), 'nothing was found on it.')
  return writeParts(out, made, json)
}

async function writeParts(out: string, { parts }: Made, json: boolean): Promise<number> {
  await makeFolder(out)
  const digits = String(parts.length).length
  const rows = []
  for (const [i, { part, pixels, reading }] of parts.entries()) {
    const path = join(out, `${String(i + 1).padStart(digits, '0')}.png`)
    await writeWhole(path, writePng(pixels), { inputs: [], force: true })
    rows.push({ file: path, part, width: pixels.width, height: pixels.height, reading })
  }
  if (json) sayJson(rows)
  else for (const { file, width, height } of rows) say(`${file}: ${width} x ${height} px`)
  return EXIT.done
}

type OrnamentOptions = Record<'out' | 'count' | 'radius' | 'stretch' | 'start' | 'size', string> & {
  whole: boolean
  force: boolean
}

/** Repeats a shape around a middle. @returns The exit code. */
export async function makeOrnament(
  file: string,
  { out, count, radius, stretch, start, size, whole, force }: OrnamentOptions,
): Promise<number> {
  checkOutput(out, [file], force)
  const ornament: Ornament = {
    count: Math.round(numberOf('count', count, 1, 72)),
    radius: numberOf('radius', radius, -1, 5),
    stretch: numberOf('stretch', stretch, 0.1, 10),
    startDeg: numberOf('start', start, -360, 360),
    sidePx: Math.round(numberOf('size', size, 16, 4096)),
    mirror: !whole,
  }
  const opened = await open(file, 'ornament')
  const { steps } = guessPlan('ornament', opened)
  const [tip] = finish(makeAll(opened, { way: 'ornament', ornament, steps })).parts
  if (!tip) throw new Error('an ornament gave no tip')
  const { width, height, data } = toCoverage(tip.pixels, tip.reading)
  // what covers is told by its alpha, or alone
  const cover = data.length === width * height ? data : data.filter((_, i) => i % 4 === 3)
  const bytes = out.endsWith('.svg') ? toUtf8(toOutlineSvg(cover, width, height)) : writePng(tip.pixels)
  await writeWhole(out, bytes, { inputs: [file], force })
  say(`${shownName(out)}: ${tip.pixels.width} x ${tip.pixels.height} px, ${tip.reading} paints`)
  return EXIT.done
}

/** Writes the layers of a drawing. Hidden ones are told, and written only when asked for. @returns The exit code. */
export async function writeLayers(
  file: string,
  { out, hidden, json }: { out: string; hidden: boolean; json: boolean },
): Promise<number> {
  const opened = await open(file, 'layers')
  const { width, height } = opened.picture
  await makeFolder(out)
  const all = layersOf(opened)
  const rows = []
  for (const [i, { layer, within, isHidden }] of all.entries()) {
    const path = isHidden && !hidden ? null : join(out, `${String(i + 1).padStart(String(all.length).length, '0')}.png`)
    if (path) await writeWhole(path, writePng(layerAlone(layer, width, height)), { inputs: [file], force: false })
    rows.push({ file: path, name: layer.name, within, isHidden, opacity: layer.opacity, op: layer.op })
  }
  if (json) sayJson(rows)
  else
    for (const { file: path, name, within, isHidden } of rows)
      say(`${path ?? '(left out)'}: ${[...within, name].join(' / ')}${isHidden ? ', hidden' : ''}`)
  return EXIT.done
}
