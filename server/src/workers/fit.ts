import { differenceOf } from '@satchel/core/compare/difference'
import type { FitBrush } from '@satchel/core/destinations/fit-state'
import { planFit } from '@satchel/core/destinations/plan'
import { FitWriter } from '@satchel/core/destinations/write-files'
import { checkSvg } from '@satchel/core/formats/svg/check'
import { drawSvg } from '@satchel/core/formats/svg/draw'
import { createSurface, toStraightRgba } from '@satchel/core/raster/surface'
import {
  FIT_PAPER,
  FIT_PICTURE,
  findBestFit,
  measureFit as measure,
  paintOriginal,
} from '@satchel/core/round-trip/round-trip'
import type { StandInDecoders } from '@satchel/core/stand-ins/found'
import sharp from 'sharp'
import { decodePng, encodePng, nodePngOptions } from './codec.ts'
import { orRefused } from './refused.ts'
import type { FitInput, FitMeasured, Tasks } from './tasks.ts'

/** What stand-ins decode with. */
export const standInDecoders: StandInDecoders = {
  async png(bytes) {
    return (await decodePng(bytes)).frames.map(({ pixels }) => pixels)
  },
  async svg(bytes) {
    checkSvg(bytes)
    return drawSvg(sharp, bytes)
  },
}
const { deflate, crc32 } = nodePngOptions
const options = { decoders: standInDecoders, ...(deflate && { deflate }), ...(crc32 && { crc32 }) }

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

export const measureFit: Tasks['measureFit'] = ({ brush, destination, choices }) =>
  orRefused<FitMeasured>(async () => {
    const { plan, files, reading, likeness, tried } = await findBestFit(
      await open(brush),
      destination,
      choices,
      options,
    )
    const { kept, approximated, left, ways } = plan
    return {
      score: likeness.score,
      result: {
        ...{ ssim: likeness.ssim, deltaE: likeness.deltaE, kept, approximated, left, ways, tried },
        files: files.map(({ path, bytes }) => ({ path, sizeBytes: bytes.length })),
        ignored: reading?.ignored ?? [],
      },
    }
  })

export const drawFit: Tasks['drawFit'] = async ({ brush, destination, choices, what }) => {
  const opened = await open(brush)
  const before = paintOriginal(opened).surface
  if (what === 'before') return encodePng(toStraightRgba(before))
  const { after } = await measure(opened, destination, choices, options)
  const arrived = after ?? createSurface(FIT_PICTURE.width, FIT_PICTURE.height, FIT_PAPER)
  return encodePng(toStraightRgba(what === 'after' ? arrived : differenceOf(before, arrived)))
}

export const writeFit: Tasks['writeFit'] = ({ brushes, destination, library }) =>
  orRefused(async () => {
    const writer = new FitWriter(destination, { ...options, library })
    const files = []
    for (const { brush, choices } of brushes) {
      const { arrivals } = planFit(await open(brush), destination, choices)
      files.push(arrivals.flatMap((arrival) => writer.write(arrival)))
    }
    return { files }
  })
