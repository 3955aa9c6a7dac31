import { LimitError } from '../errors.ts'
import type { Mesh } from './mesh.ts'

export type View = {
  /** Degrees: about the upright axis, then about the level one, then about the line of sight. */
  yawDeg: number
  pitchDeg: number
  rollDeg: number
  /** 1 fits the whole model at any turn; above that it is larger. */
  zoom: number
  /** Which part of the depth is shown, as shares from the nearest point (0) to the farthest (1). */
  near: number
  far: number
}

export const FRONT_VIEW: View = { yawDeg: 0, pitchDeg: 0, rollDeg: 0, zoom: 1, near: 0, far: 1 }

/** A model's depth seen along a line of sight: near is 1, far is 0; and how much of each pixel it covers. */
export type Depth = { side: number; nearness: Float32Array; cover: Uint8Array }

/** Samples a pixel along each axis: fewer where the picture is large, so that they fit into some 70 MB. */
const samplesFor = (sidePx: number) => (sidePx <= 1024 ? 4 : 2)
/** The largest side that is drawn, px. */
export const DEPTH_SIDE_MAX_PX = 4096
const TRIANGLES_A_STEP = 20_000
/**
 * Samples that a model may cover in all, each as often as a triangle lies there: some four seconds of one core. A figure of a
 * million triangles covers 40 million.
 */
export const DEPTH_SAMPLES_MAX = 2_000_000_000
/** What beginning a row of a triangle takes, in samples. */
const ROW_SAMPLES = 12
/** The part of the picture that a model's round may take. */
const ROOM_SHARE = 0.96

/**
 * Draws the depth of a mesh, orthographic, on a square, without a graphics card.
 *
 * @param sidePx The picture's side.
 * @returns A generator that tells what share is done, 0…1.
 * @throws {RangeError} If the side is not 1 to DEPTH_SIDE_MAX_PX.
 * @throws {LimitError} If the triangles would cover more samples than are drawn: that is known before the first one is.
 */
export function* drawDepth(mesh: Mesh, view: View, sidePx: number): Generator<number, Depth> {
  if (!(sidePx >= 1 && sidePx <= DEPTH_SIDE_MAX_PX))
    throw new RangeError(`a side of 1 to ${DEPTH_SIDE_MAX_PX} px, not ${sidePx}`)
  const samples = samplesFor(sidePx)
  const placed = place(mesh, view, sidePx * samples)
  const covered = countSamples(mesh, placed, sidePx * samples)
  if (covered > DEPTH_SAMPLES_MAX)
    throw new LimitError('what its faces cover together, in samples,', covered, DEPTH_SAMPLES_MAX)
  const { near, far } = depthRange(placed, mesh)
  const depth: Depth = {
    side: sidePx,
    nearness: new Float32Array(sidePx * sidePx),
    cover: new Uint8Array(sidePx * sidePx),
  }
  const from = near + (far - near) * view.near
  const to = near + (far - near) * view.far
  const buffer = new Float32Array((sidePx * samples) ** 2).fill(Number.POSITIVE_INFINITY)
  const { triangles } = mesh
  for (let t = 0; t < triangles.length; t += 3) {
    if (t % (3 * TRIANGLES_A_STEP) === 0) yield (0.9 * t) / triangles.length
    drawTriangle(buffer, sidePx * samples, placed, 3 * triangles[t], 3 * triangles[t + 1], 3 * triangles[t + 2])
  }
  resolve(buffer, depth, { samples, from, to })
  yield 1
  return depth
}

/** Points as the samples see them: x and y in samples, y down, z away from the eye in units of the model. */
function place({ points }: Mesh, { yawDeg, pitchDeg, rollDeg, zoom }: View, side: number): Float32Array {
  const { middle, radius } = roundOf(points)
  const m = turnOf(yawDeg, pitchDeg, rollDeg)
  const scale = (zoom * ROOM_SHARE * side) / (2 * (radius || 1))
  const half = side / 2
  const out = new Float32Array(points.length)
  for (let i = 0; i < points.length; i += 3) {
    const x = points[i] - middle[0]
    const y = points[i + 1] - middle[1]
    const z = points[i + 2] - middle[2]
    out[i] = half + scale * (m[0] * x + m[1] * y + m[2] * z)
    out[i + 1] = half - scale * (m[3] * x + m[4] * y + m[5] * z)
    out[i + 2] = -(m[6] * x + m[7] * y + m[8] * z)
  }
  return out
}

/** The middle of the box around all points, and the farthest of them from it: so large is the model at any turn. */
function roundOf(points: Float32Array): { middle: number[]; radius: number } {
  const low = [points[0], points[1], points[2]]
  const high = [...low]
  for (let i = 0; i < points.length; i++) {
    const axis = i % 3
    if (points[i] < low[axis]) low[axis] = points[i]
    if (points[i] > high[axis]) high[axis] = points[i]
  }
  const middle = low.map((value, axis) => (value + high[axis]) / 2)
  let most = 0
  for (let i = 0; i < points.length; i += 3) {
    const [x, y, z] = [points[i] - middle[0], points[i + 1] - middle[1], points[i + 2] - middle[2]]
    most = Math.max(most, x * x + y * y + z * z)
  }
  return { middle, radius: Math.sqrt(most) }
}

/** Roll after pitch after yaw, as a matrix of rows: right, up, towards the eye. */
function turnOf(yawDeg: number, pitchDeg: number, rollDeg: number): number[] {
  const [y, p, r] = [yawDeg, pitchDeg, rollDeg].map((deg) => (deg * Math.PI) / 180)
  const [cy, sy, cp, sp, cr, sr] = [Math.cos(y), Math.sin(y), Math.cos(p), Math.sin(p), Math.cos(r), Math.sin(r)]
  // yaw about y, pitch about x
  const a = [cy, 0, sy, sp * sy, cp, -sp * cy, -cp * sy, sp, cp * cy]
  return [
    ...[0, 1, 2].map((k) => cr * a[k] - sr * a[3 + k]),
    ...[0, 1, 2].map((k) => sr * a[k] + cr * a[3 + k]),
    ...[6, 7, 8].map((k) => a[k]),
  ]
}

function depthRange(placed: Float32Array, { triangles }: Mesh): { near: number; far: number } {
  let near = Number.POSITIVE_INFINITY
  let far = Number.NEGATIVE_INFINITY
  for (let t = 0; t < triangles.length; t++) {
    const z = placed[3 * triangles[t] + 2]
    if (z < near) near = z
    if (z > far) far = z
  }
  return { near, far: far > near ? far : near + 1 }
}

/** How many samples all triangles visit, as far as they lie on the picture. */
function countSamples({ triangles }: Mesh, p: Float32Array, side: number): number {
  let sum = 0
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [3 * triangles[t], 3 * triangles[t + 1], 3 * triangles[t + 2]]
    const left = Math.max(0, Math.min(p[a], p[b], p[c]))
    const right = Math.min(side, Math.max(p[a], p[b], p[c]))
    const top = Math.max(0, Math.min(p[a + 1], p[b + 1], p[c + 1]))
    const bottom = Math.min(side, Math.max(p[a + 1], p[b + 1], p[c + 1]))
    // a triangle fills half of its box, where that lies on the picture whole
    if (bottom > top) sum += (bottom - top) * (ROW_SAMPLES + Math.max(0, right - left) / 2)
  }
  return Math.round(sum)
}

/** Keeps, for every sample whose middle a triangle covers, the nearest depth. */
function drawTriangle(buffer: Float32Array, side: number, p: Float32Array, a: number, b: number, c: number): void {
  const ax = p[a]
  const ay = p[a + 1]
  const bx = p[b]
  const by = p[b + 1]
  const cx = p[c]
  const cy = p[c + 1]
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
  if (area === 0) return
  const top = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5))
  const bottom = Math.min(side - 1, Math.floor(Math.max(ay, by, cy) - 0.5))
  // depth is a plane over the picture
  const dzdx = ((p[b + 2] - p[a + 2]) * (cy - ay) - (p[c + 2] - p[a + 2]) * (by - ay)) / area
  const dzdy = ((p[c + 2] - p[a + 2]) * (bx - ax) - (p[b + 2] - p[a + 2]) * (cx - ax)) / area
  for (let row = top; row <= bottom; row++) {
    const y = row + 0.5
    let left = Number.POSITIVE_INFINITY
    let right = Number.NEGATIVE_INFINITY
    // where the row crosses the sides
    if (y >= Math.min(ay, by) && y <= Math.max(ay, by) && ay !== by) {
      const x = ax + ((y - ay) * (bx - ax)) / (by - ay)
      left = Math.min(left, x)
      right = Math.max(right, x)
    }
    if (y >= Math.min(by, cy) && y <= Math.max(by, cy) && by !== cy) {
      const x = bx + ((y - by) * (cx - bx)) / (cy - by)
      left = Math.min(left, x)
      right = Math.max(right, x)
    }
    if (y >= Math.min(cy, ay) && y <= Math.max(cy, ay) && cy !== ay) {
      const x = cx + ((y - cy) * (ax - cx)) / (ay - cy)
      left = Math.min(left, x)
      right = Math.max(right, x)
    }
    const first = Math.max(0, Math.ceil(left - 0.5))
    const last = Math.min(side - 1, Math.floor(right - 0.5))
    let z = p[a + 2] + (first + 0.5 - ax) * dzdx + (y - ay) * dzdy
    for (let i = row * side + first; i <= row * side + last; i++, z += dzdx) if (z < buffer[i]) buffer[i] = z
  }
}

/** The mean of the samples that a pixel has; what lies before or behind the range that is shown is as near, or far, as can be. */
function resolve(
  buffer: Float32Array,
  { side, nearness, cover }: Depth,
  { samples, from, to }: { samples: number; from: number; to: number },
): void {
  const width = side * samples
  const scale = 1 / Math.max(to - from, 1e-12)
  for (let y = 0, o = 0; y < side; y++)
    for (let x = 0; x < side; x++, o++) {
      let [count, sum] = [0, 0]
      for (let sy = 0; sy < samples; sy++)
        for (let sx = 0, i = (y * samples + sy) * width + x * samples; sx < samples; sx++, i++) {
          const z = buffer[i]
          if (z === Number.POSITIVE_INFINITY) continue
          count++
          const share = (to - z) * scale
          sum += Math.min(1, Math.max(0, share))
        }
      if (count === 0) continue
      nearness[o] = sum / count
      cover[o] = Math.round((255 * count) / (samples * samples))
    }
}

/** Grey of 8 or 16 bits: near is light, far is dark, and nothing where there is nothing. */
export function toDepthGrey({ nearness, cover }: Depth, bits: 8 | 16): Uint8Array | Uint16Array {
  const most = bits === 8 ? 255 : 65_535
  const out = bits === 8 ? new Uint8Array(nearness.length) : new Uint16Array(nearness.length)
  for (let i = 0; i < out.length; i++) out[i] = Math.round((most * nearness[i] * cover[i]) / 255)
  return out
}

/** The share of what is painted that a circle within the square cuts off. */
export function lostToCircle({ side, nearness, cover }: Depth): number {
  return shareOutsideCircle(
    nearness.map((near, i) => near * cover[i]),
    side,
  )
}

/** The share of light that lies outside the circle in a square. @param light So much of it a pixel, rows from the top. */
export function shareOutsideCircle(light: ArrayLike<number>, side: number): number {
  let [all, outside] = [0, 0]
  const radius = side / 2
  for (let y = 0, i = 0; y < side; y++)
    for (let x = 0; x < side; x++, i++) {
      all += light[i]
      if (Math.hypot(x + 0.5 - radius, y + 0.5 - radius) > radius) outside += light[i]
    }
  return all === 0 ? 0 : outside / all
}
