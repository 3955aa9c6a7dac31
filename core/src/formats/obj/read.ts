import { FormatError, LimitError } from '../../errors.ts'
import { checkMesh, checkTriangles, type Mesh } from '../../mesh/mesh.ts'
import { Growing } from '../growing.ts'
import { LineReader } from '../lines.ts'

const OBJ = 'OBJ'
/** Corners of one face. */
const CORNERS_MAX = 10_000
const COMMENT = 35 // a hash

/**
 * Reads the points and faces of an OBJ file; faces of more than three corners are cut into triangles from their first one.
 * Normals, textures, materials and groups are left out: the depth of a surface needs none of them.
 *
 * @throws {FormatError} If a point or a face is malformed. @throws {LimitError} If there are too many triangles, or corners of a
 * face.
 */
export function readObj(bytes: Uint8Array): Mesh {
  const points = new Growing((length) => new Float32Array(length))
  const triangles = new Growing((length) => new Uint32Array(length))
  const line = new LineReader(bytes)
  const corners: number[] = []
  while (line.nextLine()) {
    if (line.takes('v')) points.push(readNext(line), readNext(line), readNext(line))
    else if (line.takes('f')) {
      readFace(line, corners, points.count / 3)
      for (let k = 2; k < corners.length; k++) triangles.push(corners[0], corners[k - 1], corners[k])
      checkTriangles(triangles.count / 3)
    }
  }
  const mesh = { points: points.done(), triangles: triangles.done() }
  if (mesh.triangles.length === 0) throw new FormatError(OBJ, undefined, 'at least one face')
  checkMesh(OBJ, mesh)
  return mesh
}

function readNext(line: LineReader): number {
  const value = line.number()
  line.skipWord()
  return value
}

/** The points of a face, from 0; those of an OBJ count from 1, and from the last one when they are negative. */
function readFace(line: LineReader, corners: number[], count: number): void {
  corners.length = 0
  while (!line.isOver) {
    if (corners.length === CORNERS_MAX)
      throw new LimitError('the number of corners of a face', CORNERS_MAX + 1, CORNERS_MAX)
    const named = line.number()
    line.skipWord()
    const point = named < 0 ? count + named : named - 1
    if (!Number.isInteger(point) || point < 0 || point > 0xfffffffe)
      throw new FormatError(OBJ, line.from, `points from 1 to ${count} in a face`)
    corners.push(point)
  }
  if (corners.length < 3) throw new FormatError(OBJ, line.from, 'three corners in a face, at least')
}

const KNOWN = ['v', 'vn', 'vt', 'f', 'o', 'g', 's', 'mtllib', 'usemtl', 'l']

/** An OBJ has no signature: its first lines with content are comments or statements it knows, a point among them. */
export function looksLikeObj(head: Uint8Array): boolean {
  const line = new LineReader(head)
  let points = 0
  while (line.nextLine() && !line.isOpen) {
    if (line.isOver || line.byte === COMMENT) continue
    if (line.takes('v')) {
      if (Number.isNaN(line.number())) return false
      points++
    } else if (!KNOWN.some((word) => line.takes(word))) return false
  }
  return points > 0
}
