import { readFileSync } from 'node:fs'
import { differenceOf } from '@satchel/core/compare/difference'
import type { FitBrush } from '@satchel/core/destinations/fit-state'
import { planFit } from '@satchel/core/destinations/plan'
import { FitWriter } from '@satchel/core/destinations/write-files'
import { createSurface, type Surface, toStraightRgba } from '@satchel/core/raster/surface'
import { findBetter as findBetterFit } from '@satchel/core/round-trip/find-better'
import {
  FIT_PAPER,
  FIT_PICTURE,
  findBestFit,
  paintFit,
  paintFound,
  readyOriginal,
} from '@satchel/core/round-trip/round-trip'
import type { Folder, FoundBrush } from '@satchel/core/stand-ins/found'
import { STAND_IN_READERS } from '@satchel/core/stand-ins/stand-ins'
import { nodeHashBytes } from '@satchel/node/hash'
import { decodePng, encodePng, nodePngOptions } from '@satchel/node/png'
import { standInDecoders } from '@satchel/node/stand-in-decoders'
import { orRefused } from './refused.ts'
import type { FitInput, FitMeasured, FolderOfFiles } from './results.ts'
import type { Tasks } from './tasks.ts'

const { deflate, crc32 } = nodePngOptions
const options = { decoders: standInDecoders, ...(deflate && { deflate }), ...(crc32 && { crc32 }), hash: nodeHashBytes }

async function open({ frames, grain, ...brush }: FitInput): Promise<FitBrush> {
  const pictures = await Promise.all([...frames, ...(grain ? [grain.png] : [])].map(decodePng))
  const pixels = pictures.map(({ frames: [frame] }) => {
    if (!frame) throw new Error('a stored picture has no frame')
    return frame.pixels
  })
  const tile = grain && pixels[frames.length]
  return {
    ...brush,
    frames: pixels.slice(0, frames.length),
    grain: grain && tile && { name: grain.name, pixels: tile },
  }
}

export const measureFits: Tasks['measureFits'] = async ({ brush, to }) => {
  const opened = await open(brush)
  // painted once, however many destinations there are
  const original = readyOriginal(opened)
  const measured: (FitMeasured | { refused: string })[] = []
  for (const { destination, choices } of to)
    measured.push(
      await orRefused<FitMeasured>(async () => {
        const best = await findBestFit(opened, destination, choices, { ...options, original })
        const { kept, approximated, left, ways } = best.plan
        return {
          score: best.likeness.score,
          result: {
            ssim: best.likeness.ssim,
            deltaE: best.likeness.deltaE,
            kept,
            approximated,
            left,
            ways,
            tried: best.tried,
            files: best.files.map(({ path, bytes }) => ({ path, sizeBytes: bytes.length })),
            ignored: best.reading?.ignored ?? [],
          },
        }
      }),
    )
  return measured
}

export const findBetter: Tasks['findBetter'] = ({ brush, destination, choices }) =>
  orRefused(async () => {
    const { improvements } = await findBetterFit(await open(brush), destination, choices, options)
    return { improvements }
  })

export const drawFit: Tasks['drawFit'] = async ({ brush, destination, choices }) => {
  const { before, after: arrived } = await paintFit(await open(brush), destination, choices, options)
  const after = arrived ?? createSurface(FIT_PICTURE.width, FIT_PICTURE.height, FIT_PAPER)
  const png = (surface: Surface) => encodePng(toStraightRgba(surface))
  return { before: png(before), after: png(after), difference: png(differenceOf(before, after)) }
}

export const writeFit: Tasks['writeFit'] = ({ brushes, destination, library, avoid, grains }) =>
  orRefused(async () => {
    const writer = new FitWriter(destination, { ...options, library, avoid, grains })
    const files = []
    const shared = []
    for (const { brush, choices } of brushes) {
      const { arrivals } = planFit(await open(brush), destination, choices)
      files.push(arrivals.flatMap((arrival) => writer.write(arrival)))
      shared.push([...new Set(arrivals.flatMap((arrival) => writer.grainPathOf(arrival) ?? []))])
    }
    return { files, shared, grains: writer.grains }
  })

/** A level that something painted must differ by from the paper. */
const PAINTS_FROM = 12

function openFolder(folder: FolderOfFiles): Folder {
  const files = new Map(folder)
  return {
    keys: () => files.keys(),
    get(path) {
      const file = files.get(path)
      return file === undefined ? undefined : new Uint8Array(readFileSync(file))
    },
  }
}

export const readStandIn: Tasks['readStandIn'] = async ({ standIn, folder, tried, most }) => {
  const { brushes, ignored, isWhole } = await STAND_IN_READERS[standIn](openFolder(folder), standInDecoders, most)
  const isTried = new Set(tried)
  return {
    ignored,
    isWhole,
    brushes: brushes.map((brush) => {
      const { path, name, frames, files } = brush
      return { path, name, frames: frames.length, files, isBlank: isTried.has(path) && !paintsAnything(brush) }
    }),
  }
}

const paintsAnything = (brush: FoundBrush) =>
  paintFound(brush).data.some((value, i) => i % 4 === 0 && Math.abs(value - FIT_PAPER.r) >= PAINTS_FROM)

type Wanted = Parameters<Tasks['drawStandIn']>[0]

async function findInFolder({ standIn, folder, path }: Wanted) {
  const { brushes } = await STAND_IN_READERS[standIn](openFolder(folder), standInDecoders)
  return brushes.find((brush) => brush.path === path)
}

export const openStandIn: Tasks['openStandIn'] = async (wanted) => {
  const found = await findInFolder(wanted)
  if (!found) return undefined
  const { recipe, frames, grain } = found
  return { recipe, frames: frames.map((frame) => encodePng(frame)), grain: grain && encodePng(grain) }
}

export const drawStandIn: Tasks['drawStandIn'] = async (wanted) => {
  const found = await findInFolder(wanted)
  return found && encodePng(toStraightRgba(paintFound(found)))
}
