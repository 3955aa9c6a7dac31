import { distanceThirds } from '../../raster/distance.ts'

/**
 * Parts a mask into things that touch: where a neck is narrow beside both sides, it is cut. The mask is filled from its
 * thickest places outwards, and two fillings that meet become one unless the place where they meet is narrow beside the
 * thinner of both (a watershed of the distance, with the merging rule of Beucher and Meyer 1993, "The morphological
 * approach to segmentation").
 *
 * @param neck How wide a neck may be at most to be cut, as a share of the thinner side: 0 cuts nothing, 1 cuts all.
 * @returns A label a pixel, from 1; 0 outside.
 */
export function splitTouching(isSet: Uint8Array, width: number, height: number, neck: number): Int32Array {
  const distance = distanceThirds(isSet, width, height)
  const labels = new Int32Array(width * height)
  const parents: number[] = [0]
  const peaks: number[] = [0]
  const rootOf = (label: number) => {
    let root = label
    while (parents[root] !== root) {
      parents[root] = parents[parents[root]]
      root = parents[root]
    }
    return root
  }
  const around = [-width - 1, -width, -width + 1, -1, 1, width - 1, width, width + 1]
  const order = fromThickest(distance)
  for (let n = 0; n < order.length; n++) {
    const i = order[n]
    const level = distance[i]
    const x = i % width
    let best = 0
    for (let k = 0; k < 8; k++) {
      const other = i + around[k]
      if (other < 0 || other >= labels.length || labels[other] === 0) continue
      // what lies beyond the left or right border is another row
      if ((x === 0 && (k === 0 || k === 3 || k === 5)) || (x === width - 1 && (k === 2 || k === 4 || k === 7))) continue
      if (labels[other] === best) continue
      const root = rootOf(labels[other])
      if (best === 0 || root === best) {
        best = root
        continue
      }
      const thick = peaks[best] >= peaks[root] ? best : root
      const thin = thick === best ? root : best
      if (level >= neck * peaks[thin]) parents[thin] = thick
      best = thick
    }
    if (best === 0) {
      best = parents.length
      parents.push(best)
      peaks.push(level)
    }
    labels[i] = best
  }
  for (let i = 0; i < labels.length; i++) if (labels[i] !== 0) labels[i] = rootOf(labels[i])
  return labels
}

/** The pixels that are set, those farthest from the outside first; of equal ones the upper first. */
function fromThickest(distance: Uint16Array): Int32Array {
  let most = 0
  for (let i = 0; i < distance.length; i++) if (distance[i] > most) most = distance[i]
  const starts = new Int32Array(most + 2)
  for (let i = 0; i < distance.length; i++) starts[most - distance[i] + 1]++
  for (let level = 1; level < starts.length; level++) starts[level] += starts[level - 1]
  const set = starts[most] // those of distance 0 come last
  const order = new Int32Array(set)
  for (let i = 0; i < distance.length; i++) if (distance[i] > 0) order[starts[most - distance[i]]++] = i
  return order
}
