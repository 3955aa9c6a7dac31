import * as v from 'valibot'
import { PICTURE_SIDE_MAX_PX } from '../../limits.ts'
import { type Rows, wholeIn } from '../../number-row.ts'
import { meanOverAreas, scaledAxis } from '../../raster/area.ts'
import { fitSize, shrinkPixels } from '../../raster/resample.ts'
import { cutWork, type Work } from '../work.ts'

const Side = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(PICTURE_SIDE_MAX_PX))

export const SIZE_NUMBERS = {
  sidePx: {
    label: 'Longer side, at most',
    unit: 'px',
    from: 16,
    to: 4096,
    usual: 1024,
    eased: true,
    whole: true,
    least: 1,
    most: PICTURE_SIDE_MAX_PX,
  },
} satisfies Rows

/** How large the tip becomes: a longer side at most, or a canvas that the mark is fitted into. It is never enlarged. */
export const Size = v.variant('fit', [
  v.strictObject({ fit: v.literal('side'), sidePx: wholeIn(SIZE_NUMBERS.sidePx) }),
  v.strictObject({ fit: v.literal('canvas'), width: Side, height: Side }),
])
export type Size = v.InferOutput<typeof Size>

/**
 * Scales down by exact means; a canvas larger than the mark keeps it in the middle.
 * @param needsColour Whether colours are scaled too; they are clear where not.
 */
export function setSize(work: Work, size: Size, needsColour = true): Work {
  if (size.fit === 'side') return shrink(work, fitSize(work.width, work.height, size.sidePx), needsColour)
  const scale = Math.min(1, size.width / work.width, size.height / work.height)
  const small = shrink(
    work,
    {
      width: Math.max(1, Math.round(work.width * scale)),
      height: Math.max(1, Math.round(work.height * scale)),
    },
    needsColour,
  )
  const left = -Math.floor((size.width - small.width) / 2)
  return cutWork(small, left, -Math.floor((size.height - small.height) / 2), size.width, size.height)
}

function shrink(work: Work, { width, height }: { width: number; height: number }, needsColour: boolean): Work {
  if (width === work.width && height === work.height) return work
  const place = { ...work.place, scale: (work.place.scale * width) / work.width }
  return {
    ...work,
    width,
    height,
    place,
    grey: meansOf(work, 1, { width, height }),
    colour: needsColour ? shrinkColour(work, { width, height }) : new Uint8Array(4 * width * height),
  }
}

type SizePx = { width: number; height: number }

/** What is opaque everywhere needs no weighing by alpha. */
function shrinkColour(work: Work, to: SizePx): Uint8Array {
  const { colour } = work
  for (let i = 3; i < colour.length; i += 4)
    if (colour[i] !== 255) return shrinkPixels({ ...work, channels: 4, data: colour }, to.width, to.height).data
  return meansOf(work, 4, to)
}

function meansOf({ width, height, grey, colour }: Work, channels: 1 | 4, to: SizePx): Uint8Array {
  const grid = { data: channels === 1 ? grey : colour, width, height, channels }
  const means = meanOverAreas(grid, scaledAxis(width, to.width), scaledAxis(height, to.height))
  const out = new Uint8Array(means.length)
  for (let i = 0; i < out.length; i++) out[i] = means[i] + 0.5
  return out
}
