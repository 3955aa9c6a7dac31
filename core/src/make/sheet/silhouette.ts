import { labelAreas } from '../../raster/areas.ts'
import { distanceThirds } from '../../raster/distance.ts'

/**
 * The outlines of things, without what is drawn inside them: gaps no wider than twice a radius are closed (a dilation and
 * an erosion), and holes filled.
 */
export function silhouette(isSet: Uint8Array, width: number, height: number, radiusPx: number): Uint8Array {
  const reach = 3 * radiusPx
  const away = distanceThirds(opposite(isSet), width, height, { beyond: 'mask' })
  const grown = new Uint8Array(isSet.length)
  for (let i = 0; i < grown.length; i++) if (away[i] <= reach) grown[i] = 1
  const inside = distanceThirds(grown, width, height, { beyond: 'mask' })
  const closed = new Uint8Array(isSet.length)
  // eroding never takes away what was set: the distances of both ways differ by their rounding
  for (let i = 0; i < closed.length; i++) if (isSet[i] !== 0 || inside[i] > reach) closed[i] = 1
  return fillHoles(closed, width, height)
}

/** Sets what is not set and not connected with the border. */
function fillHoles(isSet: Uint8Array, width: number, height: number): Uint8Array {
  const { labels, sizes } = labelAreas(opposite(isSet), width, height, { diagonal: false })
  const isOpen = new Uint8Array(sizes.length)
  isOpen[0] = 1 // what is set keeps as it is
  for (let x = 0; x < width; x++) isOpen[labels[x]] = isOpen[labels[(height - 1) * width + x]] = 1
  for (let y = 0; y < height; y++) isOpen[labels[y * width]] = isOpen[labels[y * width + width - 1]] = 1
  const out = isSet.slice()
  for (let i = 0; i < out.length; i++) if (isOpen[labels[i]] === 0) out[i] = 1
  return out
}

function opposite(isSet: Uint8Array): Uint8Array {
  const out = new Uint8Array(isSet.length)
  for (let i = 0; i < out.length; i++) if (isSet[i] === 0) out[i] = 1
  return out
}
