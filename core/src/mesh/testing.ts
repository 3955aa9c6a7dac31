import { toUtf8 } from '../formats/text.ts'
import type { Mesh } from './mesh.ts'

/** A grid of points wrapped by a rule, as triangles. */
function wrapped(columns: number, rows: number, at: (u: number, v: number) => [number, number, number]): Mesh {
  const points = new Float32Array((columns + 1) * (rows + 1) * 3)
  const triangles = new Uint32Array(columns * rows * 6)
  for (let r = 0, o = 0; r <= rows; r++)
    for (let c = 0; c <= columns; c++, o += 3)
      points.set(
        at(c / columns, r / rows).map((value) => value + 0),
        o,
      ) // no point at minus nothing
  for (let r = 0, o = 0; r < rows; r++)
    for (let c = 0; c < columns; c++, o += 6) {
      const i = r * (columns + 1) + c
      triangles.set([i, i + 1, i + columns + 1, i + 1, i + columns + 2, i + columns + 1], o)
    }
  return { points, triangles }
}

export const sphere = (columns = 360, rows = 180): Mesh =>
  wrapped(columns, rows, (u, v) => {
    const [a, b] = [u * 2 * Math.PI, v * Math.PI]
    return [Math.sin(b) * Math.cos(a), Math.cos(b), Math.sin(b) * Math.sin(a)]
  })

/** Its tip looks along z, to the eye; its round is 1, its height 2. */
export const cone = (columns = 720): Mesh =>
  wrapped(columns, 1, (u, v) => {
    const a = u * 2 * Math.PI
    return [v * Math.cos(a), v * Math.sin(a), 1 - 2 * v]
  })

/** A level square of side 2 in x and y. */
export const plane = (): Mesh => wrapped(1, 1, (u, v) => [2 * u - 1, 2 * v - 1, 0])

export const toObj = ({ points, triangles }: Mesh): Uint8Array => {
  const lines: string[] = ['# drawn by code']
  for (let i = 0; i < points.length; i += 3) lines.push(`v ${points[i]} ${points[i + 1]} ${points[i + 2]}`)
  for (let t = 0; t < triangles.length; t += 3)
    lines.push(`f ${triangles[t] + 1}/1/1 ${triangles[t + 1] + 1}//2 ${triangles[t + 2] + 1}`)
  return toUtf8(lines.join('\n'))
}

const corners = ({ points, triangles }: Mesh) =>
  Array.from({ length: triangles.length / 3 }, (_, t) =>
    [0, 1, 2].map((k) => [...points.subarray(3 * triangles[3 * t + k], 3 * triangles[3 * t + k] + 3)]),
  )

export const toTextStl = (mesh: Mesh): Uint8Array =>
  toUtf8(
    `solid drawn\r\n${corners(mesh)
      .map(
        (three) =>
          `facet normal 0 0 0\r\nouter loop\r\n${three.map((point) => `vertex ${point.join(' ')}`).join('\r\n')}\r\nendloop\r\nendfacet`,
      )
      .join('\r\n')}\r\nendsolid drawn\r\n`,
  )

export const toBinaryStl = (mesh: Mesh, header = 'solid in a binary file'): Uint8Array => {
  const all = corners(mesh)
  const bytes = new Uint8Array(84 + 50 * all.length)
  const view = new DataView(bytes.buffer)
  bytes.set(toUtf8(header))
  view.setUint32(80, all.length, true)
  for (const [t, three] of all.entries())
    for (const [k, value] of three.flat().entries()) view.setFloat32(84 + 50 * t + 12 + 4 * k, value, true)
  return bytes
}
