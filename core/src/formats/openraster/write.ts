import { composeLayers, type Layer } from '../../raster/compose-layers.ts'
import type { Pixels } from '../../raster/pixels.ts'
import { fitSize, shrinkPixels } from '../../raster/resample.ts'
import { joinBytes } from '../bytes.ts'
import { toMarkup, toUtf8 } from '../text.ts'
import { ZipWriter, type ZipWriterOptions } from '../zip/write.ts'

/** The longer side of the small picture that every file has (OpenRaster 0.0.6, file layout), px. */
const THUMBNAIL_PX = 256

type Options = ZipWriterOptions & { encode: (pixels: Pixels) => Uint8Array }

/**
 * Writes a drawing of plain layers as OpenRaster, with the merged and the small picture that readers expect.
 * @param layers Topmost first.
 */
export function writeOpenRaster(
  { width, height, layers }: { width: number; height: number; layers: readonly Layer[] },
  { encode, ...zipOptions }: Options,
): Uint8Array {
  const writer = new ZipWriter(zipOptions)
  const parts: Uint8Array[] = []
  const add = (path: string, bytes: Uint8Array) => parts.push(...writer.add(path, bytes, 'store'))
  add('mimetype', toUtf8('image/openraster'))
  const lines = layers.map(({ name, left, top, opacity, isHidden, op }, i) => {
    const about = [
      ['name', name],
      ['src', pathOf(i)],
      ['x', String(left)],
      ['y', String(top)],
      ['opacity', String(opacity)],
      ['visibility', isHidden ? 'hidden' : 'visible'],
      ['composite-op', op === 'normal' ? 'svg:src-over' : `svg:${op}`],
    ]
    return `<layer ${about.map(([key, value]) => `${key}="${toMarkup(value)}"`).join(' ')}/>`
  })
  const stack = `<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.6" w="${width}" h="${height}"><stack>\n${lines.join('\n')}\n</stack></image>\n`
  add('stack.xml', toUtf8(stack))
  for (const [i, { pixels }] of layers.entries()) add(pathOf(i), encode(pixels))
  const merged = composeLayers(layers, width, height)
  add('mergedimage.png', encode(merged))
  const small = fitSize(width, height, THUMBNAIL_PX)
  add('Thumbnails/thumbnail.png', encode(shrinkPixels(merged, small.width, small.height)))
  parts.push(...writer.finish())
  return joinBytes(parts)
}

const pathOf = (i: number) => `data/layer${i + 1}.png`
