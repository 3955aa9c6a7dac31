import { describe, expect, it } from 'vitest'
import { FormatError } from '../errors.ts'
import { looksLikeObj, readObj } from '../formats/obj/read.ts'
import { looksLikeStl, readStl } from '../formats/stl/read.ts'
import { cone, sphere, toBinaryStl, toObj, toTextStl } from './testing.ts'

const text = (...lines: string[]) => new TextEncoder().encode(lines.join('\n'))
const ball = sphere(24, 12)
const square = ['v 0 0 0', 'v 1 0 0', 'v 1 1 0', 'v 0 1 0']

describe('OBJ', () => {
  it('gives back the mesh that was written', () => {
    expect(readObj(toObj(ball))).toEqual(ball)
  })

  it('cuts faces into triangles, and counts from the end', () => {
    expect([...readObj(text(...square, 'f -4 -3 -2 -1')).triangles]).toEqual([0, 1, 2, 0, 2, 3])
  })

  it('reads numbers however they are written', () => {
    const { points } = readObj(text('v 1e-1 -.5 +2.', 'v 12345678901234567 0 0', 'v 0 1E2 0', 'f 1 2 3'))
    expect([...points.subarray(0, 3)].map((value) => Math.round(value * 10) / 10)).toEqual([0.1, -0.5, 2])
    expect(points[3]).toBe(Math.fround(Number('12345678901234567')))
    expect(points[7]).toBe(100)
  })

  it.each([
    ['a face of a point that is not there', [...square, 'f 1 2 9']],
    ['a face of point 0', [...square, 'f 0 1 2']],
    ['a face of two corners', [...square, 'f 1 2']],
    ['a point that is no number', ['v 0 0 x', 'v 1 0 0', 'v 1 1 0', 'f 1 2 3']],
    ['a point of two numbers', ['v 0 0', 'v 1 0 0', 'v 1 1 0', 'f 1 2 3']],
    ['an endless point', ['v 1e999 0 0', 'v 1 0 0', 'v 1 1 0', 'f 1 2 3']],
    ['no face', square],
    ['no area', [...square, 'f 1 1 2', 'f 1 2 1']],
  ])('with %s is refused', (_what, lines) => {
    expect(() => readObj(text(...lines))).toThrow(FormatError)
  })

  it('with a face of more corners than are taken is refused, not cut', () => {
    const ring = (corners: number) => text(...square, `f ${'1 2 3 '.repeat(corners / 3)}1`)
    expect(readObj(ring(9999)).triangles).toHaveLength(3 * 9998)
    expect(() => readObj(ring(10_002))).toThrow('Too large: the number of corners of a face')
  })

  it('is told from other text', () => {
    expect(looksLikeObj(text('# made by hand', '', 'mtllib x', ...square))).toBe(true)
    expect(looksLikeObj(text('very much text', 'v 1 2 3', ''))).toBe(false)
    expect(looksLikeObj(text('# nothing', ''))).toBe(false)
  })
})

describe('STL', () => {
  it.each([
    ['binary', toBinaryStl],
    ['text', toTextStl],
  ] as const)('gives back the triangles that were written, %s', (_kind, write) => {
    const { points, triangles } = readStl(write(ball))
    expect(triangles.length).toBe(ball.triangles.length)
    const wanted = [...ball.triangles].flatMap((i) => [...ball.points.subarray(3 * i, 3 * i + 3)])
    expect([...points]).toEqual(wanted)
  })

  it('is told from other files', () => {
    expect(looksLikeStl(toBinaryStl(cone(40), 'any header'))).toBe(true)
    expect(looksLikeStl(toTextStl(cone(8)))).toBe(true)
    expect(looksLikeStl(new Uint8Array(400).fill(200))).toBe(false)
    expect(looksLikeStl(text('not a model at all'))).toBe(false)
  })

  it('cut off anywhere is refused', () => {
    const binary = toBinaryStl(cone(6))
    for (let length = 0; length < binary.length; length += 7)
      expect(() => readStl(binary.subarray(0, length))).toThrow(FormatError)
    const written = toTextStl(cone(6))
    const vertex = written.length - 60
    expect(() => readStl(written.subarray(0, vertex))).toThrow(FormatError)
  })

  it('of more triangles than are taken is refused before memory is taken', () => {
    const bytes = new Uint8Array(84 + 50)
    new DataView(bytes.buffer).setUint32(80, 3_000_000, true)
    expect(() => readStl(bytes)).toThrow(FormatError)
  })

  it('with a point that is no number is refused', () => {
    const bytes = toBinaryStl(cone(6))
    new DataView(bytes.buffer).setFloat32(84 + 12, Number.NaN, true)
    expect(() => readStl(bytes)).toThrow(FormatError)
  })
})
