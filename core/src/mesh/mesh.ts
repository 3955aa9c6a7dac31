import { FormatError, LimitError } from '../errors.ts'
import { MESH_TRIANGLES_MAX } from '../limits.ts'

/** A surface of triangles: x, y, z of one point after another, and three points a triangle. */
export type Mesh = { points: Float32Array; triangles: Uint32Array }

/** @throws {LimitError} If there are more triangles than are taken. */
export function checkTriangles(count: number): void {
  if (count > MESH_TRIANGLES_MAX) throw new LimitError('the number of triangles', count, MESH_TRIANGLES_MAX)
}

/**
 * Checks what was read: every point a number, every triangle of points that are there, and something to be seen.
 * @throws {FormatError} Naming the first fault.
 */
export function checkMesh(format: string, { points, triangles }: Mesh): void {
  for (let i = 0; i < points.length; i++)
    if (!Number.isFinite(points[i]))
      throw new FormatError(format, undefined, `numbers for point ${Math.floor(i / 3) + 1}, found none`)
  const count = points.length / 3
  for (let i = 0; i < triangles.length; i++)
    if (triangles[i] >= count)
      throw new FormatError(format, undefined, `${count} points at most, a face names point ${triangles[i] + 1}`)
  if (!hasArea({ points, triangles })) throw new FormatError(format, undefined, 'faces with some area, found none')
}

function hasArea({ points, triangles }: Mesh): boolean {
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [3 * triangles[t], 3 * triangles[t + 1], 3 * triangles[t + 2]]
    const [ux, uy, uz] = [points[b] - points[a], points[b + 1] - points[a + 1], points[b + 2] - points[a + 2]]
    const [vx, vy, vz] = [points[c] - points[a], points[c + 1] - points[a + 1], points[c + 2] - points[a + 2]]
    if (uy * vz - uz * vy !== 0 || uz * vx - ux * vz !== 0 || ux * vy - uy * vx !== 0) return true
  }
  return false
}
