import { findContours, type Ring } from './contours.ts'

/** Places of an outline are told in px with so many figures after the point. */
const FIGURES = 2

/**
 * The outline of what a picture covers, as a drawing: marching squares at half cover, linear between pixels.
 * @param cover How much paints, a byte a pixel, 0 nothing to 255 fully.
 * @returns An SVG of the picture's size, black, holes left open; without a path where nothing covers half.
 */
export function toOutlineSvg(cover: Uint8Array, width: number, height: number): string {
  const path = findContours(cover, width, height).map(toPath).join('')
  const drawn = path && `<path fill-rule="evenodd" d="${path}"/>`
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${drawn}</svg>\n`
}

function toPath(ring: Ring): string {
  const places: string[] = []
  for (let i = 0; i < ring.length; i += 2) places.push(`${toShort(ring[i])} ${toShort(ring[i + 1])}`)
  return `M${places.join('L')}Z`
}
const toShort = (value: number) => String(Number(value.toFixed(FIGURES)))
