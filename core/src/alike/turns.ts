/** The eight ways to lay a square on itself: by quarters clockwise, and the same after mirroring left and right. */
export const TURNS = [
  { quarters: 0, mirrored: false },
  { quarters: 1, mirrored: false },
  { quarters: 2, mirrored: false },
  { quarters: 3, mirrored: false },
  { quarters: 0, mirrored: true },
  { quarters: 1, mirrored: true },
  { quarters: 2, mirrored: true },
  { quarters: 3, mirrored: true },
] as const
export type Turn = (typeof TURNS)[number]

/** Whether width and height change places. */
export const swapsSides = ({ quarters }: Turn): boolean => quarters % 2 === 1

const maps = new Map<string, Int32Array>()

/**
 * Where each place of a square takes its value from when the square is mirrored and then turned.
 *
 * @param side Length of the square's side.
 * @returns side x side indices, row by row.
 */
export function turnedPlaces({ quarters, mirrored }: Turn, side: number): Int32Array {
  const key = `${quarters} ${mirrored} ${side}`
  const known = maps.get(key)
  if (known) return known
  const last = side - 1
  const places = Int32Array.from({ length: side * side }, (_, i) => {
    let [x, y] = [i % side, Math.floor(i / side)]
    // Back by quarters: what lies at (x, y) after a quarter clockwise lay at (y, last - x).
    for (let q = 0; q < quarters; q++) [x, y] = [y, last - x]
    return y * side + (mirrored ? last - x : x)
  })
  maps.set(key, places)
  return places
}
