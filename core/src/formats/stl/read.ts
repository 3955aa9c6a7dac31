import { FormatError } from '../../errors.ts'
import { checkMesh, checkTriangles, type Mesh } from '../../mesh/mesh.ts'
import { Growing } from '../growing.ts'
import { LineReader } from '../lines.ts'

const STL = 'STL'
const HEADER_BYTES = 84
const COUNT_AT = 80
const TRIANGLE_BYTES = 50
/** After the normal of a triangle, which is not needed. */
const POINTS_AT = 12

/** A binary STL has exactly as many bytes as its count says; a text begins with "solid", as some binary ones do too. */
const isBinary = (bytes: Uint8Array): boolean =>
  bytes.length >= HEADER_BYTES && bytes.length === HEADER_BYTES + TRIANGLE_BYTES * countOf(bytes)

const countOf = (bytes: Uint8Array) =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(COUNT_AT, true)

/**
 * Reads a binary or text STL.
 * @throws {FormatError} If it is cut off or malformed. @throws {LimitError} If there are too many triangles.
 */
export function readStl(bytes: Uint8Array): Mesh {
  const mesh = isBinary(bytes) ? readBinary(bytes) : readText(bytes)
  if (mesh.triangles.length === 0) throw new FormatError(STL, undefined, 'at least one triangle')
  checkMesh(STL, mesh)
  return mesh
}

function readBinary(bytes: Uint8Array): Mesh {
  const count = countOf(bytes)
  checkTriangles(count)
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const points = new Float32Array(count * 9)
  for (let t = 0, o = 0, at = HEADER_BYTES + POINTS_AT; t < count; t++, at += TRIANGLE_BYTES)
    for (let k = 0; k < 9; k++, o++) points[o] = view.getFloat32(at + 4 * k, true)
  return { points, triangles: Uint32Array.from({ length: count * 3 }, (_, i) => i) }
}

function readText(bytes: Uint8Array): Mesh {
  const line = new LineReader(bytes)
  line.nextLine()
  if (!line.takes('solid')) {
    const wanted =
      bytes.length >= HEADER_BYTES
        ? `${HEADER_BYTES + TRIANGLE_BYTES * countOf(bytes)} bytes as its count says, found ${bytes.length}`
        : 'the word solid, or a binary header'
    throw new FormatError(STL, 0, wanted)
  }
  const points = new Growing((length) => new Float32Array(length))
  const next = () => {
    const value = line.number()
    line.skipWord()
    return value
  }
  while (line.nextLine()) {
    if (!line.takes('vertex')) continue
    points.push(next(), next(), next())
    checkTriangles(Math.floor(points.count / 9))
  }
  if (points.count % 9 !== 0) throw new FormatError(STL, bytes.length, 'three corners for each triangle; it is cut off')
  return { points: points.done(), triangles: Uint32Array.from({ length: points.count / 3 }, (_, i) => i) }
}

/** Whether a file may be an STL: a text that begins with a solid, or a binary header with a count that is taken. */
export function looksLikeStl(head: Uint8Array): boolean {
  const line = new LineReader(head)
  line.nextLine()
  if (line.takes('solid')) return true
  if (head.length < HEADER_BYTES + TRIANGLE_BYTES) return false
  const count = countOf(head)
  if (count === 0 || count > 100_000_000) return false
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength)
  // whole triangles of the head: their numbers are numbers, and the two bytes behind each nearly always 0
  for (let t = 0; t < Math.min(count, Math.floor((head.length - HEADER_BYTES) / TRIANGLE_BYTES), 8); t++) {
    const at = HEADER_BYTES + t * TRIANGLE_BYTES
    for (let k = 0; k < 12; k++) {
      const value = Math.abs(view.getFloat32(at + 4 * k, true))
      if (!(value < 1e9) || (value !== 0 && value < 1e-20)) return false
    }
  }
  return true
}
