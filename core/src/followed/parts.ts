/** A place in a file that pixels come from, with where its line stands in the ledger. */
export type PlacedLine = { folder: string; path: string; ordinal: number }

/**
 * Names the places of a file that brushes come from, so that they are the same wherever the file lies: nothing for a file that is one brush, the
 * path within for one out of an archive, and a number for further ones at one place.
 * @param filePath The path of the file, by which its lines begin.
 */
export function namePlaces<Line extends PlacedLine>(lines: readonly Line[], filePath: string): Map<string, Line> {
  const named = new Map<string, Line>()
  for (const line of [...lines].sort((a, b) => a.ordinal - b.ordinal)) {
    const whole = line.folder === '' ? line.path : `${line.folder}/${line.path}`
    const within = whole.startsWith(filePath) ? whole.slice(filePath.length).replace(/^\//, '') : whole
    let name = within
    for (let n = 2; named.has(name); n++) name = `${within}#${n}`
    named.set(name, line)
  }
  return named
}

/**
 * Pairs what a file holds by now with the brushes that came out of it: by their places, and where there is one of each,
 * whatever the place is called.
 * @returns Of each line that is known, its part; the rest of the file is new.
 */
export function pairPlaces<Line, Part extends { part: string }>(
  places: ReadonlyMap<string, Line>,
  parts: readonly Part[],
): Map<Line, Part> {
  const [only] = parts
  if (only && parts.length === 1 && places.size === 1) return new Map([...places.values()].map((line) => [line, only]))
  const known = new Map(parts.map((part) => [part.part, part]))
  return new Map(
    [...places].flatMap(([name, line]) => {
      const part = known.get(name)
      return part ? [[line, part] as const] : []
    }),
  )
}
