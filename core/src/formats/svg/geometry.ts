/** How x and y of an element become those of the drawing: `x' = a x + c y + e`, `y' = b x + d y + f`. */
export type Matrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number]
export const IDENTITY: Matrix = [1, 0, 0, 1, 0, 0]

/** Numbers of a list, as SVG writes them: parted by commas, spaces, or nothing but a sign. */
const NUMBER = /[-+]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][-+]?\d+)?/g
export const parseNumbers = (text: string): number[] => (text.match(NUMBER) ?? []).map(Number)

/** The first number of an attribute; `fallback` where it has none. */
export const firstNumber = (text: string | undefined, fallback: number): number =>
  text === undefined ? fallback : (parseNumbers(text)[0] ?? fallback)

export const multiply = (p: Matrix, q: Matrix): Matrix => [
  p[0] * q[0] + p[2] * q[1],
  p[1] * q[0] + p[3] * q[1],
  p[0] * q[2] + p[2] * q[3],
  p[1] * q[2] + p[3] * q[3],
  p[0] * q[4] + p[2] * q[5] + p[4],
  p[1] * q[4] + p[3] * q[5] + p[5],
]

const RADIANS = Math.PI / 180
/** What each kind of transform is as a matrix (CSS Transforms 1, section 12). */
const TRANSFORMS: Record<string, (n: readonly number[]) => Matrix> = {
  matrix: ([a = 1, b = 0, c = 0, d = 1, e = 0, f = 0]) => [a, b, c, d, e, f],
  translate: ([x = 0, y = 0]) => [1, 0, 0, 1, x, y],
  scale: ([x = 1, y = x]) => [x, 0, 0, y, 0, 0],
  rotate: ([deg = 0, x = 0, y = 0]) => {
    const [cos, sin] = [Math.cos(deg * RADIANS), Math.sin(deg * RADIANS)]
    return [cos, sin, -sin, cos, x - x * cos + y * sin, y - x * sin - y * cos]
  },
  skewX: ([deg = 0]) => [1, 0, Math.tan(deg * RADIANS), 1, 0, 0],
  skewY: ([deg = 0]) => [1, Math.tan(deg * RADIANS), 0, 1, 0, 0],
}

/** A list of transforms as one. What is none is passed over. */
export function parseTransform(text: string): Matrix {
  let all = IDENTITY
  for (const part of text.split(')')) {
    const at = part.indexOf('(')
    const name = part.slice(0, Math.max(0, at)).replaceAll(',', ' ').trim()
    const toMatrix = at > 0 && Object.hasOwn(TRANSFORMS, name) ? TRANSFORMS[name] : undefined
    if (toMatrix) all = multiply(all, toMatrix(parseNumbers(part.slice(at + 1))))
  }
  return all
}

/** How many numbers each command of a path takes, and where in them its last point lies (SVG 2, section 9.3). */
const COMMANDS: Record<string, { takes: number; x?: number; y?: number }> = {
  M: { takes: 2, x: 0, y: 1 },
  L: { takes: 2, x: 0, y: 1 },
  T: { takes: 2, x: 0, y: 1 },
  H: { takes: 1, x: 0 },
  V: { takes: 1, y: 0 },
  C: { takes: 6, x: 4, y: 5 },
  S: { takes: 4, x: 2, y: 3 },
  Q: { takes: 4, x: 2, y: 3 },
  A: { takes: 7, x: 5, y: 6 },
}

/**
 * The corners of a path, as `[x0, y0, x1, y1, …]`: where each of its commands ends. Curves count by their ends, which is
 * enough to know how much there is to draw.
 */
export function pathCorners(d: string): Float64Array {
  const corners: number[] = []
  let [x, y] = [0, 0]
  for (const [, letter, inside] of d.matchAll(/([MLTHVCSQAZmlthvcsqaz])([^MLTHVCSQAZmlthvcsqaz]*)/g)) {
    const command = COMMANDS[letter.toUpperCase()]
    if (!command) continue
    const isRelative = letter >= 'a'
    const numbers = parseNumbers(inside)
    for (let at = 0; at + command.takes <= numbers.length; at += command.takes) {
      if (command.x !== undefined) x = numbers[at + command.x] + (isRelative ? x : 0)
      if (command.y !== undefined) y = numbers[at + command.y] + (isRelative ? y : 0)
      corners.push(x, y)
    }
  }
  return Float64Array.from(corners)
}
