/** The grids that a number of frames fills wholly, with at least two rows and two columns: rows, columns. */
export function frameGrids(frames: number): [rows: number, columns: number][] {
  const grids: [number, number][] = []
  for (let rows = 2; rows <= frames / 2; rows++) if (frames % rows === 0) grids.push([rows, frames / rows])
  return grids
}
