/** Connected areas of a picture: the area of each pixel, from 1, and 0 where it belongs to none; sizes by area, in pixels. */
export type Areas = { labels: Int32Array; sizes: Int32Array }

/** Runs of set pixels, row after row: where each starts, and ends (excluded), in the picture; its area so far. */
type Runs = { starts: Int32Array; ends: Int32Array; parents: Int32Array; count: number }

/**
 * Labels the connected areas of what is set, by runs of each row and a union of those that meet (as Rosenfeld and Pfaltz
 * 1966, by runs).
 *
 * @param isSet A byte a pixel, 0 where it is not part of any area; rows from the top.
 * @param options.diagonal Whether pixels that touch by a corner belong together.
 * @returns Areas are numbered in the order in which their first pixels stand; `sizes[0]` counts what belongs to none.
 */
export function labelAreas(
  isSet: Uint8Array,
  width: number,
  height: number,
  { diagonal = true }: { diagonal?: boolean } = {},
): Areas {
  const runs = findRuns(isSet, width, height, diagonal ? 1 : 0)
  const labels = new Int32Array(width * height)
  const numbers = new Int32Array(runs.count)
  const sizes: number[] = [labels.length]
  for (let run = 0; run < runs.count; run++) {
    const { starts, ends } = runs
    const root = rootOf(runs.parents, run)
    // a root stands before all that were joined to it
    if (root === run) numbers[run] = sizes.push(0) - 1
    const label = numbers[root]
    const length = ends[run] - starts[run]
    sizes[label] += length
    sizes[0] -= length
    labels.fill(label, starts[run], ends[run])
  }
  return { labels, sizes: Int32Array.from(sizes) }
}

function findRuns(isSet: Uint8Array, width: number, height: number, reach: 0 | 1): Runs {
  let runs: Runs = emptyRuns(1024)
  let above = 0
  for (let y = 0; y < height; y++) {
    const row = y * width
    const first = runs.count
    let candidate = above
    for (let i = row; i < row + width; i++) {
      if (isSet[i] === 0) continue
      const start = i
      while (i < row + width && isSet[i] !== 0) i++
      if (runs.count === runs.starts.length) runs = grown(runs)
      const run = runs.count++
      runs.starts[run] = start
      runs.ends[run] = i
      runs.parents[run] = run
      // runs of the row above that end too early for this one end too early for all that follow
      while (candidate < first && runs.ends[candidate] + width + reach <= start) candidate++
      for (let other = candidate; other < first && runs.starts[other] + width < i + reach; other++)
        join(runs.parents, other, run)
    }
    above = first
  }
  return runs
}

const emptyRuns = (room: number): Runs => ({
  starts: new Int32Array(room),
  ends: new Int32Array(room),
  parents: new Int32Array(room),
  count: 0,
})

function grown({ starts, ends, parents, count }: Runs): Runs {
  const larger = emptyRuns(2 * starts.length)
  larger.starts.set(starts)
  larger.ends.set(ends)
  larger.parents.set(parents)
  return { ...larger, count }
}

function rootOf(parents: Int32Array, run: number): number {
  let root = run
  while (parents[root] !== root) {
    parents[root] = parents[parents[root]] // shorter for the next one
    root = parents[root]
  }
  return root
}

/** The earlier of two roots becomes that of both. */
function join(parents: Int32Array, a: number, b: number): void {
  const rootA = rootOf(parents, a)
  const rootB = rootOf(parents, b)
  if (rootA < rootB) parents[rootB] = rootA
  else parents[rootA] = rootB
}
