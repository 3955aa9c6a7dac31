import { crc32, deflateRawSync, deflateSync, constants as zlib } from 'node:zlib'
import type { BrushFileKind } from '@satchel/core/brush-file/kinds'
import { writeGbr } from '@satchel/core/formats/gbr/write'
import { headerData, writeChunk } from '@satchel/core/formats/png/chunk'
import { SIGNATURE } from '@satchel/core/formats/png/layout'
import { toUtf8 } from '@satchel/core/formats/text'
import { ZipWriter } from '@satchel/core/formats/zip/write'
import sharp from 'sharp'

/** A file made to cost time or memory, by a rule of its own format. */
export type HostileFile = { name: string; make(): Uint8Array | Promise<Uint8Array> }

const joinAll = (parts: readonly (Uint8Array | string)[]): Uint8Array =>
  new Uint8Array(Buffer.concat(parts.map((part) => (typeof part === 'string' ? toUtf8(part) : part))))
const join = (...parts: (Uint8Array | string)[]): Uint8Array => joinAll(parts)
const u32 = (...values: number[]): Uint8Array => {
  const out = Buffer.alloc(4 * values.length)
  for (const [i, value] of values.entries()) out.writeUInt32BE(value >>> 0, 4 * i)
  return new Uint8Array(out)
}
const zeros = (sizeBytes: number) => new Uint8Array(sizeBytes)
const repeat = (times: number, make: (i: number) => string) => Array.from({ length: times }, (_, i) => make(i)).join('')

const chunk = (type: string, data: Uint8Array = zeros(0)) => writeChunk(type, data, (bytes) => crc32(bytes))
const png = (header: Uint8Array, ...chunks: Uint8Array[]) =>
  join(Uint8Array.from(SIGNATURE), chunk('IHDR', header), ...chunks, chunk('IEND'))
const packed = (bytes: Uint8Array) => new Uint8Array(deflateSync(bytes, { level: 9 }))
const onePixel = () => chunk('IDAT', packed(zeros(2)))

const picture = (width: number, height: number) => sharp({ create: { width, height, channels: 3, background: '#7a5' } })
const bytesOf = async (made: Promise<Buffer>) => new Uint8Array(await made)

/** A directory of a TIFF, little-endian: entries of tag, type, count, value; then where the next one lies. */
function tiffDirectory(entries: [tag: number, type: number, count: number, value: number][], next: number): Uint8Array {
  const out = Buffer.alloc(2 + 12 * entries.length + 4)
  out.writeUInt16LE(entries.length, 0)
  for (const [i, [tag, type, count, value]] of entries.entries()) {
    out.writeUInt16LE(tag, 2 + 12 * i)
    out.writeUInt16LE(type, 4 + 12 * i)
    out.writeUInt32LE(count, 6 + 12 * i)
    out.writeUInt32LE(value, 10 + 12 * i)
  }
  out.writeUInt32LE(next, 2 + 12 * entries.length)
  return new Uint8Array(out)
}
const TIFF_HEAD = Uint8Array.of(0x49, 0x49, 42, 0, 8, 0, 0, 0)
const [SHORT, LONG] = [3, 4]
/** Grey pictures of one strip. */
const tiffPicture = (side: number, strip: [at: number, sizeBytes: number], compression = 1) =>
  [
    [256, LONG, 1, side],
    [257, LONG, 1, side],
    [258, SHORT, 1, 8],
    [259, SHORT, 1, compression],
    [262, SHORT, 1, 1],
    [273, LONG, 1, strip[0]],
    [277, SHORT, 1, 1],
    [278, LONG, 1, side],
    [279, LONG, 1, strip[1]],
  ] as [number, number, number, number][]

const riff = (chunks: Uint8Array[]) => {
  const body = joinAll(['WEBP', ...chunks])
  const size = Buffer.alloc(4)
  size.writeUInt32LE(body.length)
  return join('RIFF', new Uint8Array(size), body)
}
const riffChunk = (type: string, data: Uint8Array, said = data.length) => {
  const size = Buffer.alloc(4)
  size.writeUInt32LE(said >>> 0)
  return join(type, new Uint8Array(size), data, zeros(data.length % 2))
}

const gbrHead = (...fields: number[]) => u32(...fields)
const MAGIC = 0x47494d50
const dot = (side = 4) =>
  writeGbr({
    version: 2,
    name: 'dot',
    spacingPct: 10,
    width: side,
    height: side,
    channels: 1,
    data: zeros(side * side),
  })

const svg = (inside: string) =>
  toUtf8(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1000 1000">${inside}</svg>`)

const zip = (...entries: [path: string, bytes: Uint8Array, packing: 'store' | 'deflate'][]): Uint8Array => {
  const writer = new ZipWriter({
    crc32: (bytes) => crc32(bytes),
    deflateRaw: (bytes) => new Uint8Array(deflateRawSync(bytes, { level: 9, strategy: zlib.Z_DEFAULT_STRATEGY })),
  })
  return joinAll([...entries.flatMap(([path, bytes, packing]) => writer.add(path, bytes, packing)), ...writer.finish()])
}
const openRaster = (stack: string, ...files: [string, Uint8Array, 'store' | 'deflate'][]) =>
  zip(['mimetype', toUtf8('image/openraster'), 'store'], ['stack.xml', toUtf8(stack), 'deflate'], ...files)
const layers = (count: number, src: (i: number) => string, side = 16) =>
  `<image w="${side}" h="${side}"><stack>${repeat(count, (i) => `<layer name="l${i}" src="${src(i)}"/>`)}</stack></image>`

const stlHead = (count: number) => {
  const out = Buffer.alloc(84)
  out.writeUInt32LE(count, 80)
  return new Uint8Array(out)
}

/**
 * For every kind of file that is taken, its own ways to cost time or memory, from that format's rules; a row each, and the
 * compiler holds the kinds complete. All are made by code, when they are asked for.
 */
export const HOSTILE_FILES: Record<BrushFileKind | 'zip', HostileFile[]> = {
  png: [
    {
      name: 'as many pixels as are taken, in a few bytes',
      make: () => png(headerData(8000, 8000, 8, 6), chunk('IDAT', packed(zeros(8000 * (1 + 4 * 8000))))),
    },
    { name: 'hundreds of megabytes behind its last row', make: () => png(headerData(1, 1, 8, 0), chunk('IDAT', packed(zeros(200_000_000)))) },
    {
      name: 'half a million empty pieces of pixel data',
      make: () => {
        const empty = chunk('IDAT')
        const all = Buffer.alloc(empty.length * 500_000)
        for (let i = 0; i < 500_000; i++) all.set(empty, i * empty.length)
        return png(headerData(1, 1, 8, 0), onePixel(), new Uint8Array(all))
      },
    },
    {
      name: 'packed texts that unfold a thousandfold, a thousand of them',
      make: () => {
        const text = join('k\0\0', packed(zeros(60_000_000)))
        return png(headerData(1, 1, 8, 0), ...Array.from({ length: 1000 }, () => chunk('zTXt', text)), onePixel())
      },
    },
    {
      name: 'many frames on a canvas as large as it may be',
      make: () => {
        const control = (n: number) =>
          chunk('fcTL', join(u32(n, 1, 1, 0, 0), Uint8Array.of(0, 1, 0, 10, 0, 0)))
        const frames = Array.from({ length: 256 }, (_, i) => [control(2 * i), chunk('fdAT', join(u32(2 * i + 1), packed(zeros(2))))])
        return png(headerData(8000, 8000, 8, 0), chunk('acTL', u32(256, 0)), chunk('IDAT', packed(zeros(8000 * 8001))), ...frames.flat())
      },
    },
    { name: 'interlaced, of one bit, as large as it may be', make: () => png(headerData(16_384, 3906, 1, 0, true), chunk('IDAT', packed(zeros(16_000_000)))) },
  ],
  jpeg: [
    {
      name: 'a scan that comes again and again',
      make: async () => {
        const whole = Buffer.from(await picture(4000, 4000).jpeg({ progressive: true }).toBuffer())
        const last = whole.lastIndexOf(Buffer.from([0xff, 0xda]))
        const scan = whole.subarray(last, whole.length - 2)
        return join(whole.subarray(0, whole.length - 2), ...Array.from({ length: 400 }, () => scan), Uint8Array.of(0xff, 0xd9))
      },
    },
    {
      name: 'the largest sides that there are',
      make: async () => {
        const small = Buffer.from(await picture(16, 16).jpeg().toBuffer())
        const frame = small.indexOf(Buffer.from([0xff, 0xc0]))
        small.writeUInt16BE(65_500, frame + 5)
        small.writeUInt16BE(65_500, frame + 7)
        return new Uint8Array(small)
      },
    },
    { name: 'nothing but filling', make: () => join(Uint8Array.of(0xff, 0xd8), zeros(40_000_000).fill(0xff)) },
    {
      name: 'notes without end before the picture',
      make: async () => {
        const small = await picture(16, 16).jpeg().toBuffer()
        const note = join(Uint8Array.of(0xff, 0xe1, 0xff, 0xff), zeros(65_533))
        return join(small.subarray(0, 2), ...Array.from({ length: 500 }, () => note), small.subarray(2))
      },
    },
    { name: 'as many pixels as are taken', make: () => bytesOf(picture(8000, 8000).jpeg({ progressive: true }).toBuffer()) },
  ],
  tiff: [
    { name: 'a directory that leads to itself', make: () => join(TIFF_HEAD, tiffDirectory(tiffPicture(4, [200, 16]), 8), zeros(200)) },
    {
      name: 'twenty thousand directories',
      make: () => {
        const size = tiffDirectory(tiffPicture(4, [8, 16]), 0).length
        const all = Array.from({ length: 20_000 }, (_, i) => tiffDirectory(tiffPicture(4, [8, 16]), i === 19_999 ? 0 : 8 + size * (i + 1)))
        return joinAll([TIFF_HEAD, ...all])
      },
    },
    { name: 'a strip of four gigabytes', make: () => join(TIFF_HEAD, tiffDirectory(tiffPicture(65_000, [8, 0xffff_ffff]), 0)) },
    {
      name: 'packed pixels that unfold a thousandfold',
      make: () => {
        const strip = packed(zeros(64_000_000))
        return join(TIFF_HEAD, tiffDirectory(tiffPicture(8000, [8 + 2 + 9 * 12 + 4, strip.length], 8), 0), strip)
      },
    },
    {
      name: 'a list of strips longer than the file',
      make: () => join(TIFF_HEAD, tiffDirectory(tiffPicture(4000, [8, 8]).map(([tag, type, count, value]) => (tag === 273 || tag === 279 ? [tag, type, 0x3fff_ffff, 8] : [tag, type, count, value])), 0)),
    },
  ],
  webp: [
    { name: 'as many pixels as are taken, in a few bytes', make: () => bytesOf(picture(8000, 8000).webp({ lossless: true, effort: 0 }).toBuffer()) },
    { name: 'a canvas of sixteen million a side', make: () => riff([riffChunk('VP8X', Uint8Array.of(0x02, 0, 0, 0, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff)), riffChunk('ANIM', zeros(6))]) },
    {
      name: 'thousands of frames',
      make: async () => {
        const still = Buffer.from(await picture(64, 64).webp({ lossless: true }).toBuffer())
        const frame = riffChunk('ANMF', join(zeros(6), Uint8Array.of(63, 0, 0, 63, 0, 0, 1, 0, 0, 0), still.subarray(12)))
        const extended = riffChunk('VP8X', Uint8Array.of(0x02, 0, 0, 0, 63, 0, 0, 63, 0, 0))
        return riff([extended, riffChunk('ANIM', zeros(6)), ...Array.from({ length: 5000 }, () => frame)])
      },
    },
    { name: 'a piece longer than the file', make: () => riff([riffChunk('VP8L', zeros(64), 0xffff_fff0)]) },
    { name: 'a hundred thousand unknown pieces', make: () => riff(Array.from({ length: 100_000 }, () => riffChunk('JUNK', zeros(4)))) },
  ],
  gbr: [
    { name: 'four thousand million pixels', make: () => join(gbrHead(29, 2, 65_535, 65_535, 4, MAGIC, 10), zeros(100)) },
    { name: 'a header of four gigabytes', make: () => join(gbrHead(0xffff_ffff, 2, 4, 4, 1, MAGIC, 10), zeros(100)) },
    { name: 'as many pixels as are taken', make: () => dot(8000) },
    { name: 'a name without an end', make: () => join(gbrHead(28 + 4096, 2, 4, 4, 1, MAGIC, 10), 'n'.repeat(4096), zeros(16)) },
    { name: 'sides whose product overflows', make: () => join(gbrHead(29, 2, 0x1_0000, 0x1_0001, 1, MAGIC, 10), zeros(100)) },
  ],
  gih: [
    { name: 'as many frames as there are numbers', make: () => join('x\n999999999 ncells:999999999\n', dot()) },
    { name: 'as many pixels as are taken, in frames', make: () => join('x\n20 ncells:20\n', ...Array.from({ length: 20 }, () => dot(1990))) },
    { name: 'a line of pairs as long as it may be', make: () => join('x\n1 ', repeat(4000, (i) => `k${i}:v `).slice(0, 16_000), '\n', dot()) },
    { name: 'ranks that make more frames than there are', make: () => join('x\n1 dim:4 rank0:256 rank1:256 rank2:256 rank3:256\n', dot()) },
    { name: 'a step without measure, and every key twice', make: () => join('x\n1 step:1e30 step:2 cellwidth:-1 cellwidth:9 dim:1 dim:1\n', dot()) },
  ],
  svg: [
    { name: 'a head that is looked at for ever', make: () => toUtf8(`${'<!---->'.repeat(40)}<x`) },
    { name: 'two thousand parts of a filter', make: () => svg(`<filter id="f">${'<feGaussianBlur stdDeviation="9"/>'.repeat(2000)}</filter><rect width="1000" height="1000" filter="url(#f)"/>`) },
    { name: 'a path of three hundred thousand points', make: () => svg(`<path d="M0 0${repeat(300_000, (i) => `L${i % 1000} ${i % 2 ? 1000 : 0}`)}"/>`) },
    { name: 'uses of uses of uses', make: () => svg(`<g id="a0"><path d="M0 0h9v9z"/></g>${repeat(9, (i) => `<g id="a${i + 1}">${`<use href="#a${i}"/>`.repeat(10)}</g>`)}`) },
    { name: 'entities within entities', make: () => toUtf8(`<!DOCTYPE svg [<!ENTITY a "x">${repeat(20, (i) => `<!ENTITY a${i} "${`&a${i - 1};`.repeat(10)}">`)}]><svg xmlns="http://www.w3.org/2000/svg">&a19;</svg>`) },
    { name: 'groups a hundred thousand deep', make: () => svg('<g>'.repeat(100_000) + '</g>'.repeat(100_000)) },
    { name: 'an attribute of five megabytes', make: () => svg(`<path d="${'M0 0 '.repeat(1_000_000)}"/>`) },
    { name: 'rules for everything in its style', make: () => svg(`<style>${'*{fill:url(#a)}'.repeat(50_000)}</style>${'<g/>'.repeat(50_000)}`) },
  ],
  openraster: [
    {
      name: 'one large picture as every layer',
      make: () =>
        openRaster(
          layers(256, () => 'data/a.png'),
          ['data/a.png', png(headerData(8000, 8000, 8, 0), chunk('IDAT', packed(zeros(8000 * 8001)))), 'store'],
        ),
    },
    { name: 'groups a hundred thousand deep', make: () => openRaster(`<image w="1" h="1">${'<stack>'.repeat(100_000)}${'</stack>'.repeat(100_000)}</image>`) },
    { name: 'a hundred thousand layers', make: () => openRaster(layers(100_000, () => 'data/a.png')) },
    { name: 'entities within entities', make: () => openRaster(`<!DOCTYPE image [<!ENTITY a "x">]><image w="1" h="1"><stack>&a;</stack></image>`) },
    { name: 'a list of layers that unfolds a thousandfold', make: () => openRaster(`<image w="1" h="1">${' '.repeat(200_000_000)}</image>`) },
    {
      name: 'as many layers as there may be, as large as they may be together',
      make: () => {
        const one = png(headerData(552, 552, 8, 0), chunk('IDAT', packed(zeros(552 * 553))))
        return openRaster(layers(256, () => 'data/a.png', 552), ['data/a.png', one, 'store'])
      },
    },
  ],
  obj: [
    { name: 'three points and four hundred thousand equal faces', make: () => toUtf8(`v 0 0 0\nv 1 0 0\nv 0 1 0\n${'f 1 2 3\n'.repeat(400_000)}`) },
    { name: 'a face of more corners than are taken', make: () => toUtf8(`v 0 0 0\nv 1 0 0\nv 0 1 0\nf ${'1 2 3 '.repeat(400_000)}`) },
    { name: 'a million points, and a face', make: () => toUtf8(`${repeat(1_000_000, (i) => `v ${i} ${i % 7} 0\n`)}f 1 2 3\n`) },
    { name: 'a line that does not end', make: () => toUtf8(`v 0 0 0\nv ${'9'.repeat(40_000_000)}`) },
    { name: 'long thin faces, two million of them', make: () => toUtf8(`v 0 0 0\nv 0.000001 0 0\nv 0 1 0\n${'f 1 2 3\n'.repeat(1_900_000)}`) },
  ],
  stl: [
    { name: 'more triangles than there are numbers', make: () => join(stlHead(90_000_000), zeros(500)) },
    {
      name: 'two million triangles that cover everything',
      make: () => {
        const one = new Float32Array([0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 1, 0])
        const all = Buffer.alloc(84 + 50 * 1_900_000)
        all.writeUInt32LE(1_900_000, 80)
        const bytes = Buffer.from(one.buffer)
        for (let t = 0; t < 1_900_000; t++) bytes.copy(all, 84 + 50 * t)
        return new Uint8Array(all)
      },
    },
    { name: 'corners of a text that do not end', make: () => toUtf8(`solid x\n${'vertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\n'.repeat(1_000_000)}`) },
    { name: 'numbers that are none', make: () => join(stlHead(3), zeros(150).fill(0xff)) },
    { name: 'a first line that does not end', make: () => toUtf8(`solid ${'x'.repeat(40_000_000)}`) },
  ],
  zip: [
    { name: 'a file that unfolds a thousandfold', make: () => zip(['a.png', zeros(180_000_000), 'deflate']) },
    {
      name: 'a directory that says more files than it lists',
      make: () => {
        const bytes = Buffer.from(zip(['a.png', zeros(1), 'store']))
        bytes.writeUInt16LE(65_000, bytes.length - 22 + 10)
        return new Uint8Array(bytes)
      },
    },
    {
      name: 'one file that is listed again and again',
      make: () => {
        const bytes = Buffer.from(zip(...Array.from({ length: 5000 }, (_, i): [string, Uint8Array, 'store'] => [`${i}.png`, zeros(64), 'store'])))
        // every entry of the directory points at the first one
        for (let at = bytes.indexOf('PK\x01\x02', 0, 'latin1'); at >= 0; at = bytes.indexOf('PK\x01\x02', at + 46, 'latin1')) bytes.writeUInt32LE(0, at + 42)
        return new Uint8Array(bytes)
      },
    },
    { name: 'archives within archives within archives', make: () => [1, 2, 3, 4, 5].reduce((inner, n) => zip([`${n}.zip`, inner, 'store']), zip(['a.png', zeros(1), 'store'])) },
    { name: 'a manifest larger than is taken', make: () => zip(['pack.json', toUtf8(`{"format":"satchel-pack","help":"${'x'.repeat(70_000_000)}"}`), 'store']) },
    { name: 'a manifest of values without end in one another', make: () => zip(['pack.json', toUtf8(`{"format":"satchel-pack","version":4,"brushes":${'['.repeat(3_000_000)}`), 'store']) },
    {
      name: 'a manifest of as many brushes as there may be',
      make: () => {
        const brush = (i: number) => `{"id":"b${i}","name":"b${i}","maker":"","licence":"","tags":[],"recipe":{},"frames":["${'0'.repeat(64)}"],"frameNames":[],"keys":[],"thumbnail":{"from":"stroke"}}`
        return zip(['pack.json', toUtf8(`{"format":"satchel-pack","version":4,"title":"x","maker":"","licence":"","help":"","release":"","brushes":[${Array.from({ length: 20_000 }, (_, i) => brush(i)).join()}],"grains":[],"strips":[],"sets":[],"pockets":[]}`), 'store'])
      },
    },
  ],
} // biome-ignore format: one row a file

/** Every file, with its kind. */
export const hostileFiles = (): { kind: BrushFileKind | 'zip'; file: HostileFile }[] =>
  (Object.entries(HOSTILE_FILES) as [BrushFileKind | 'zip', HostileFile[]][]).flatMap(([kind, files]) =>
    files.map((file) => ({ kind, file })),
  )
