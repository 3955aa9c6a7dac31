import { FormatError } from '../../errors.ts'
import { PNG } from './layout.ts'

/** What each filter byte means (W3C PNG, section 9.2). */
const FILTER = { none: 0, sub: 1, up: 2, average: 3, paeth: 4 } as const

/**
 * Takes the filter off a row, in place.
 * @param row The filter byte and the row's bytes behind it.
 * @param above The row above, unfiltered, behind a byte that does not count; all zero for the first one.
 * @param bytesPerPixel How far the pixel to the left is away; 1 for pixels of less than a byte.
 * @throws {FormatError} For a filter that there is not.
 */
export function unfilterRow(row: Uint8Array, above: Uint8Array, bytesPerPixel: number): void {
  const first = 1 + bytesPerPixel
  switch (row[0]) {
    case FILTER.none:
      return
    case FILTER.sub:
      for (let i = first; i < row.length; i++) row[i] += row[i - bytesPerPixel]
      return
    case FILTER.up:
      for (let i = 1; i < row.length; i++) row[i] += above[i]
      return
    case FILTER.average:
      for (let i = 1; i < first && i < row.length; i++) row[i] += above[i] >> 1
      for (let i = first; i < row.length; i++) row[i] += (row[i - bytesPerPixel] + above[i]) >> 1
      return
    case FILTER.paeth:
      for (let i = 1; i < first && i < row.length; i++) row[i] += above[i]
      for (let i = first; i < row.length; i++)
        row[i] += paeth(row[i - bytesPerPixel], above[i], above[i - bytesPerPixel])
      return
    default:
      throw new FormatError(PNG, 0, `a row filter from 0 to 4, found ${row[0]}; the file is damaged`)
  }
}

/** Of left, above and left above, the one nearest to left + above − left above. */
function paeth(left: number, above: number, leftAbove: number): number {
  const fromLeft = Math.abs(above - leftAbove)
  const fromAbove = Math.abs(left - leftAbove)
  const fromLeftAbove = Math.abs(left + above - 2 * leftAbove)
  if (fromLeft <= fromAbove && fromLeft <= fromLeftAbove) return left
  return fromAbove <= fromLeftAbove ? above : leftAbove
}
