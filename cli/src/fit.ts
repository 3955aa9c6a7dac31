import { readdir, readFile } from 'node:fs/promises'
import { dirname, join, relative, sep } from 'node:path'
import { deflateSync } from 'node:zlib'
import { BUILT_IN } from '@satchel/core/destinations/built-in'
import {
  checkDestination,
  Destination,
  parseDestination,
  STAND_INS,
  type StandInName,
} from '@satchel/core/destinations/destination'
import { type Choices, type FitBrush, WAY_QUESTIONS, type WayName } from '@satchel/core/destinations/fit-state'
import { FitWriter } from '@satchel/core/destinations/write-files'
import { writePng } from '@satchel/core/formats/png/write'
import { ENTRY_MEMORY_MAX_BYTES } from '@satchel/core/limits'
import { toStraightRgba } from '@satchel/core/raster/surface'
import { findBestFit, paintFound } from '@satchel/core/round-trip/round-trip'
import { STAND_IN_READERS } from '@satchel/core/stand-ins/stand-ins'
import { toJsonSchema } from '@valibot/to-json-schema'
import { eachBrush } from './any-brush.ts'
import { makeFolder, parseText, writeWhole } from './files.ts'
import { EXIT, FileProblem, toFileProblem, UsageError } from './problems.ts'
import { say, sayJson, warn } from './say.ts'

const deflate = (bytes: Uint8Array) => deflateSync(bytes, { level: 6 })

/** What decodes drawings needs binaries of its own: it is fetched when something is read back. */
const loadDecoders = async () => (await import('@satchel/node/stand-in-decoders')).standInDecoders

const isStandIn = (name: string): name is StandInName => STAND_INS.some((each) => each === name)

/** A destination that comes with the product, by its name, or one that a file describes. */
async function loadDestination(wanted: string): Promise<Destination> {
  const name = wanted.toLowerCase()
  if (isStandIn(name)) return BUILT_IN[name]
  if (!wanted.endsWith('.json'))
    throw new UsageError(`No destination is called "${wanted}": ${STAND_INS.join(', ')}, or a file that ends in .json.`)
  return parseText(wanted, parseDestination)
}

function parseWays(ways: readonly string[]): Choices {
  return Object.fromEntries(
    ways.map((text) => {
      const [name = '', value = ''] = text.split('=')
      if (!(name in WAY_QUESTIONS) || value === '')
        throw new UsageError(
          `--way takes one of ${Object.keys(WAY_QUESTIONS).join(', ')}, an equals sign and the answer, not "${text}".`,
        )
      return [name as WayName, value]
    }),
  )
}

export type FitOptions = { to: string; out: string; brush?: string; way?: string[]; library?: string; json: boolean }

/** Converts brushes for a destination, and says what of each arrives. @returns The exit code. */
export async function fit(input: string, options: FitOptions): Promise<number> {
  const destination = await loadDestination(options.to)
  const choices = parseWays(options.way ?? [])
  const library = options.library ?? 'Satchel'
  const writer = new FitWriter(destination, { library, deflate })
  const rows: unknown[] = []
  let isWhole = true
  await eachBrush(input, options.brush, async (brush) => {
    const row = await fitOne(brush, { destination, choices, library, writer, out: options.out })
    rows.push(row)
    if (row.files.length === 0) isWhole = false
    if (!options.json) tell(row)
  })
  if (options.json) sayJson(rows)
  else for (const [i, step] of destination.afterCopying.entries()) say(`${i + 1}. ${step}`)
  return isWhole ? EXIT.done : EXIT.bad
}

type Job = { destination: Destination; choices: Choices; library: string; writer: FitWriter; out: string }

async function fitOne(brush: FitBrush, { destination, choices, library, writer, out }: Job) {
  const best = await findBestFit(brush, destination, choices, { decoders: await loadDecoders(), library, deflate })
  const { plan, likeness } = best
  const files = plan.arrivals.flatMap((arrival) => writer.write(arrival))
  for (const { path, bytes } of files) {
    const file = join(out, ...path.split('/'))
    await makeFolder(dirname(file))
    await writeWhole(file, bytes, { inputs: [], force: true })
  }
  const { kept, approximated, left, ways } = plan
  return {
    brush: brush.name,
    likeness: round(likeness.score),
    ssim: round(likeness.ssim),
    deltaE: round(likeness.deltaE),
    kept,
    approximated,
    left,
    ways: ways.map(({ name, chosen, options }) => ({ name, chosen, options: options.map(({ value }) => value) })),
    files: files.map(({ path }) => path),
  }
}

function tell({ brush, likeness, approximated, left, files }: Awaited<ReturnType<typeof fitOne>>): void {
  say(`${brush}: likeness ${likeness.toFixed(1)}, ${files.length} ${files.length === 1 ? 'file' : 'files'}`)
  for (const { called, how } of approximated) say(`  approximated: ${called}, ${how}`)
  for (const { called, how } of left) say(`  left behind: ${called}${how ? `, ${how}` : ''}`)
}

const round = (value: number) => Math.round(value * 1000) / 1000

/** What a stand-in finds in a folder, and what it paints with it. @returns The exit code. */
export async function askStandIn(
  name: string,
  folder: string,
  { brush: wanted, stroke, json }: { brush?: string; stroke?: string; json: boolean },
): Promise<number> {
  if (!isStandIn(name)) throw new UsageError(`No stand-in is called "${name}": ${STAND_INS.join(', ')}.`)
  const { brushes, ignored } = await STAND_IN_READERS[name](await readFolder(folder), await loadDecoders())
  const rows = brushes.map(({ path, name, frames, grain, recipe }) => ({
    path,
    name,
    frames: frames.length,
    grain: grain !== undefined,
    recipe,
    width: frames[0]?.width,
    height: frames[0]?.height,
  }))
  if (json) sayJson({ brushes: rows, ignored })
  else {
    for (const { path, name, frames, width, height } of rows)
      say(`${path}: "${name}", ${width} x ${height} px${frames > 1 ? `, ${frames} pictures` : ''}`)
    for (const { path, why } of ignored) say(`${path}: passed over, ${why}`)
  }
  if (stroke === undefined) return brushes.length > 0 ? EXIT.done : EXIT.bad
  const found = brushes.find((each) => wanted === undefined || each.name === wanted || each.path === wanted)
  if (!found)
    throw new FileProblem(
      folder,
      wanted === undefined ? 'no brush was found in it.' : `no brush called "${wanted}" was found in it.`,
    )
  await writeWhole(stroke, writePng(toStraightRgba(paintFound(found)), { deflate }), { inputs: [], force: false })
  return EXIT.done
}

const FILES_MOST = 20_000

async function readFolder(folder: string): Promise<Map<string, Uint8Array>> {
  const files = new Map<string, Uint8Array>()
  try {
    const entries = await readdir(folder, { recursive: true, withFileTypes: true })
    let bytesSoFar = 0
    for (const entry of entries) {
      if (!entry.isFile()) continue
      if (files.size >= FILES_MOST) throw new FileProblem(folder, `more than ${FILES_MOST} files lie in it.`)
      const file = join(entry.parentPath, entry.name)
      const bytes = new Uint8Array(await readFile(file))
      bytesSoFar += bytes.length
      if (bytesSoFar > 4 * ENTRY_MEMORY_MAX_BYTES)
        throw new FileProblem(folder, 'its files are too large to be looked at together.')
      files.set(relative(folder, file).split(sep).join('/'), bytes)
    }
  } catch (error) {
    throw toFileProblem(folder, error)
  }
  return files
}

/** Lists the destinations that come with the product, prints one, or checks a description. @returns The exit code. */
export async function listDestinations(
  wanted: string | undefined,
  { json, schema }: { json: boolean; schema: boolean },
): Promise<number> {
  if (schema) {
    sayJson(toJsonSchema(Destination, { errorMode: 'ignore' }))
    return EXIT.done
  }
  const all = wanted === undefined ? Object.values(BUILT_IN) : [await loadDestination(wanted)]
  const said = all.flatMap((destination) => checkDestination(destination))
  if (json) sayJson(wanted === undefined ? all : all[0])
  else for (const { name, appVersion, about } of all) say(`${name} ${appVersion}: ${about}`)
  for (const sentence of said) warn(sentence)
  return said.length === 0 ? EXIT.done : EXIT.bad
}
