/** How often each level occurs. */
export function countLevels(data: Uint8Array): Uint32Array {
  const counts = new Uint32Array(256)
  for (let i = 0; i < data.length; i++) counts[data[i]]++
  return counts
}

/**
 * The level that parts bytes into two groups whose means lie farthest apart for their sizes (Otsu 1979, "A threshold
 * selection method from gray-level histograms").
 * @returns The highest level of the lower group.
 */
export function otsuThreshold(data: Uint8Array): number {
  const counts = countLevels(data)
  const all = data.length
  let sum = 0
  for (let level = 0; level < 256; level++) sum += level * counts[level]
  let [below, sumBelow, best, threshold] = [0, 0, -1, 0]
  for (let level = 0; level < 255; level++) {
    below += counts[level]
    sumBelow += level * counts[level]
    const above = all - below
    if (below === 0 || above === 0) continue
    const gap = sumBelow / below - (sum - sumBelow) / above
    const between = below * above * gap * gap
    if (between > best) {
      best = between
      threshold = level
    }
  }
  return threshold
}
