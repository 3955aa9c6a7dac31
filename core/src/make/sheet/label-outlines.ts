import { labelAreas } from '../../raster/areas.ts'
import { toWorkPoint, type Work } from '../work.ts'
import { silhouette } from './silhouette.ts'
import { splitTouching } from './split-touching.ts'

/** A line, px of the source. */
type Cut = { from: { x: number; y: number }; to: { x: number; y: number } }

/** From this grey down a pixel makes an object; fainter ones only go along with it. */
export const MAKES_FROM = 170
/** Gaps that are closed before necks are looked for, as a share of the longer side. */
const CLOSE_SHARE = 0.004
/** Outlines are told apart at no more than this, px of the longer side; what they hold keeps every px. */
const OUTLINE_SIDE_PX = 800

/** Labels of what hangs together, a cell of so many px to each side after another; rows from the top. */
export type Coarse = { labels: Int32Array; width: number; height: number }

/**
 * Labels what hangs together; where necks are to be cut, by the outlines of things and not by what is drawn in them. Cuts by
 * hand count in any case.
 */
export function labelOutlines(work: Work, { neck, cuts }: OutlineSettings): Outlines {
  const key = JSON.stringify([neck, cuts])
  const known = LABELLED.get(work)
  if (known?.key === key) return known.outlines
  const outlines = labelAnew(work, { neck, cuts })
  LABELLED.set(work, { key, outlines })
  return outlines
}

type OutlineSettings = { neck: number; cuts: readonly Cut[] }
type Outlines = { coarse: Coarse; factor: number }

/** What was labelled last of a picture: most settings of a sheet change nothing in it, and it is most of the work. */
const LABELLED = new WeakMap<Work, { key: string; outlines: Outlines }>()

function labelAnew(work: Work, { neck, cuts }: OutlineSettings): Outlines {
  const factor = neck === 0 ? 1 : Math.ceil(Math.max(work.width, work.height) / OUTLINE_SIDE_PX)
  const small = reduceMask(work, factor)
  const { width, height } = small
  const radius = Math.max(1, Math.round(CLOSE_SHARE * Math.max(width, height)))
  const outlines = neck === 0 ? small.isSet : silhouette(small.isSet, width, height, radius)
  const place = ({ x, y }: { x: number; y: number }) => {
    const at = toWorkPoint(work, x, y)
    return { x: at.x / factor, y: at.y / factor }
  }
  for (const { from, to } of cuts) cutLine(outlines, small, place(from), place(to))
  const labels = neck === 0 ? labelAreas(outlines, width, height).labels : splitTouching(outlines, width, height, neck)
  return { coarse: { labels, width, height }, factor }
}

type Mask = { isSet: Uint8Array; width: number; height: number }

/** What makes objects, by cells: set wherever one of their pixels is. */
function reduceMask({ grey, width, height }: Work, factor: number): Mask {
  const small: Mask = { width: Math.ceil(width / factor), height: Math.ceil(height / factor), isSet: new Uint8Array(0) }
  small.isSet = new Uint8Array(small.width * small.height)
  for (let y = 0, i = 0; y < height; y++) {
    let cell = Math.floor(y / factor) * small.width
    for (let x = 0; x < width; cell++)
      for (const end = Math.min(width, x + factor); x < end; x++, i++) if (grey[i] < MAKES_FROM) small.isSet[cell] = 1
  }
  return small
}

/** The label of what lies under a point of the source, by the outlines; 0 where nothing does. */
export function labelUnder(coarse: Coarse, factor: number, work: Work, { x, y }: { x: number; y: number }): number {
  const at = toWorkPoint(work, x, y)
  const [px, py] = [Math.floor(at.x), Math.floor(at.y)]
  if (px < 0 || py < 0 || px >= work.width || py >= work.height) return 0
  if (work.grey[py * work.width + px] >= MAKES_FROM) return 0
  return coarse.labels[Math.floor(py / factor) * coarse.width + Math.floor(px / factor)]
}

/** Takes the pixels of a line, a bit wider than one, out of the mask. */
function cutLine(
  isSet: Uint8Array,
  { width, height }: { width: number; height: number },
  a: { x: number; y: number },
  b: { x: number; y: number },
): void {
  const steps = Math.max(1, Math.ceil(2 * Math.hypot(b.x - a.x, b.y - a.y)))
  for (let k = 0; k <= steps; k++) {
    const x = Math.floor(a.x + ((b.x - a.x) * k) / steps)
    const y = Math.floor(a.y + ((b.y - a.y) * k) / steps)
    for (const [px, py] of [
      [x, y],
      [x + 1, y],
    ])
      if (px >= 0 && py >= 0 && px < width && py < height) isSet[py * width + px] = 0
  }
}
