import { contours } from 'd3-contour'

/** The share of paint at which a shape ends. */
const EDGE = 127.5
/** Places of an outline are told in px with so many figures after the point. */
const FIGURES = 2

/**
 * The outline of what a picture covers, as a drawing: marching squares at half cover, linear between pixels (d3-contour).
 * @param cover How much paints, a byte a pixel, 0 nothing to 255 fully.
 * @returns An SVG of the picture's size, black, holes left open; without a path where nothing covers half.
 */
export function toOutlineSvg(cover: Uint8Array, width: number, height: number): string {
  const [shape] = contours().size([width, height]).thresholds([EDGE])(cover as unknown as number[])
  const rings = (shape?.coordinates ?? []).flat()
  const path = rings.map((ring) => `M${ring.slice(0, -1).map(toPlace).join('L')}Z`).join('')
  const drawn = path && `<path fill-rule="evenodd" d="${path}"/>`
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${drawn}</svg>\n`
}

const toPlace = ([x = 0, y = 0]: number[]) => `${toShort(x)} ${toShort(y)}`
const toShort = (value: number) => String(Number(value.toFixed(FIGURES)))
