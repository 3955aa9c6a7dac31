/** Rows between the rows of pixels in which a polygon is followed; across, its cover is exact. */
const SUB_ROWS = 4

/**
 * How much of each pixel lies inside a closed polygon, by the even-odd rule.
 * @param corners x, y of one corner after another, px.
 * @returns A byte a pixel, 0 outside to 255 inside.
 */
export function coverPolygon(corners: readonly number[], width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height)
  const row = new Float32Array(width)
  for (let y = 0; y < height; y++) {
    row.fill(0)
    for (let k = 0; k < SUB_ROWS; k++) {
      const crossings = crossingsAt(corners, y + (k + 0.5) / SUB_ROWS)
      for (let i = 0; i + 1 < crossings.length; i += 2) addSpan(row, crossings[i], crossings[i + 1])
    }
    for (let x = 0, o = y * width; x < width; x++, o++) out[o] = Math.round((255 * row[x]) / SUB_ROWS)
  }
  return out
}

/** Where a row crosses the sides, from the left. */
function crossingsAt(corners: readonly number[], y: number): number[] {
  const found: number[] = []
  const last = corners.length - 2
  for (let i = 0, x0 = corners[last], y0 = corners[last + 1]; i <= last; i += 2) {
    const [x1, y1] = [corners[i], corners[i + 1]]
    if (y0 <= y !== y1 <= y) found.push(x0 + ((y - y0) * (x1 - x0)) / (y1 - y0))
    ;[x0, y0] = [x1, y1]
  }
  return found.sort((a, b) => a - b)
}

function addSpan(row: Float32Array, from: number, to: number): void {
  const left = Math.max(0, from)
  const right = Math.min(row.length, to)
  for (let x = Math.floor(left); x < right; x++) row[x] += Math.min(right, x + 1) - Math.max(left, x)
}
