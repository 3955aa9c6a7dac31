import { toCoverage } from '@satchel/core/brush/coverage'
import { toOpenBrushFile, toPngFile } from '@satchel/core/convert/open-brush'
import type { Pixels } from '@satchel/core/raster/pixels'
import { fitSize, shrinkPixels } from '@satchel/core/raster/resample'
import { prepareBrush } from '@satchel/core/stroke/prepare-brush'
import { INK, renderGauge, renderListStroke } from '@satchel/core/stroke/render'
import { toStraightRgba } from '@satchel/core/stroke/surface'
import { decodePng, encodePng, nodePngOptions } from './codec.ts'
import { readTip, toReadFrame } from './read-tip.ts'
import type { Tasks } from './tasks.ts'

async function decodeOne(png: Uint8Array): Promise<Pixels> {
  const [frame] = (await decodePng(png)).frames
  if (!frame) throw new Error('a stored picture has no frame')
  return frame.pixels
}

const tasks: Tasks = {
  readTip,

  async shrink({ png, sidePx }) {
    const pixels = await decodeOne(png)
    const { width, height } = fitSize(pixels.width, pixels.height, sidePx)
    return toReadFrame(shrinkPixels(pixels, width, height))
  },

  async renderStroke({ frames, grain, recipe, width, height, what }) {
    const pictures = { frames: await Promise.all(frames.map(decodeOne)), grain: grain && (await decodeOne(grain)) }
    const brush = prepareBrush(pictures, recipe, INK)
    const surface = (what === 'list' ? renderListStroke : renderGauge)(brush, recipe, { width, height })
    return encodePng(toStraightRgba(surface))
  },

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

  async openFiles({ name, maker, licence, recipe, frames }) {
    const brush = { name, recipe, frames: await Promise.all(frames.map(decodeOne)) }
    const { extension, bytes } = toOpenBrushFile(brush)
    return {
      png: toPngFile(brush, { ...nodePngOptions, text: { Author: maker, Copyright: licence } }),
      brush: bytes,
      extension,
    }
  },
}

function inkOf(coverage: Uint8Array): Uint8Array {
  const out = new Uint8Array(coverage.length * 4)
  for (let i = 0; i < coverage.length; i++) out[i * 4 + 3] = coverage[i] ?? 0
  return out
}

/** The pool names the task; see `pool.ts`. */
export default function run({ task, input }: { task: keyof Tasks; input: never }): Promise<unknown> {
  return tasks[task](input)
}
