import { zlibSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { FormatError, LimitError } from './errors.ts'
import { joinBytes } from './formats/bytes.ts'
import { writeGbr } from './formats/gbr/write.ts'
import { readGih } from './formats/gih/read.ts'
import { headerData, writeChunk } from './formats/png/chunk.ts'
import { BEHIND_LAST_ROW } from './formats/png/decode.ts'
import { SIGNATURE } from './formats/png/layout.ts'
import { readPng } from './formats/png/read.ts'
import { writeApng, writePng } from './formats/png/write.ts'
import { toUtf8 } from './formats/text.ts'
import { toByteSource } from './formats/zip/layout.ts'
import { listZip } from './formats/zip/read.ts'
import { checkPictureSize, NAME_MAX_CHARS, PICTURE_PIXELS_MAX, PICTURE_SIDE_MAX_PX } from './limits.ts'
import { roundTip } from './testing.ts'

const chunk = (type: string, bytes: number[] = []) => writeChunk(type, Uint8Array.from(bytes))
const file = (...chunks: Uint8Array[]) => joinBytes([Uint8Array.from(SIGNATURE), ...chunks])
const head = (width = 1, height = 1, depth = 8, colourType = 0) =>
  writeChunk('IHDR', headerData(width, height, depth, colourType))
/** The pixels of a 1 x 1 grey picture, as a chunk. */
const pixel = () => {
  const png = writePng({ width: 1, height: 1, channels: 1, data: Uint8Array.of(9) })
  return png.subarray(33, png.length - 12)
}
const control = (sequence: number, width = 1, height = 1, dispose = 0) =>
  chunk('fcTL', [0, 0, 0, sequence, 0, 0, 0, width, 0, 0, 0, height, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 10, dispose, 0])
const animation = (frames: number) => chunk('acTL', [0, 0, 0, frames, 0, 0, 0, 0])

describe('limits of a picture', () => {
  it('take what is just inside and refuse what is just outside', () => {
    expect(() => checkPictureSize(PICTURE_SIDE_MAX_PX, 1)).not.toThrow()
    expect(() => checkPictureSize(PICTURE_SIDE_MAX_PX + 1, 1)).toThrow(LimitError)
    expect(() => checkPictureSize(8000, PICTURE_PIXELS_MAX / 8000)).not.toThrow()
    expect(() => checkPictureSize(8000, PICTURE_PIXELS_MAX / 8000 + 1)).toThrow(
      'Too large: the pixel count is 64,008,000, at most 64,000,000 is taken',
    )
  })

  it('hold for writing too', () => {
    const wide = {
      width: PICTURE_SIDE_MAX_PX + 1,
      height: 1,
      channels: 1 as const,
      data: new Uint8Array(PICTURE_SIDE_MAX_PX + 1),
    }
    expect(() => writePng(wide)).toThrow(LimitError)
    expect(() => writeApng([wide])).toThrow(LimitError)
    expect(() => writeGbr({ version: 2, name: '', spacingPct: 10, ...wide })).toThrow(LimitError)
  })

  it('cut a name instead of writing one that is too long', () => {
    const bytes = writeGbr({ version: 2, name: 'x'.repeat(400), spacingPct: 10, ...roundTip(2) })
    expect(new DataView(bytes.buffer).getUint32(0)).toBe(28 + NAME_MAX_CHARS + 1)
  })
})

describe('every way a PNG can be malformed has its sentence', () => {
  it.each([
    ['no signature', toUtf8('hello, this is text'), 'at byte 0 expected the PNG signature'],
    ['nothing behind the signature', file(), 'expected another chunk; the file is cut short'],
    ['another chunk first', file(chunk('IDAT', [1])), 'expected the header chunk IHDR first'],
    ['no width', file(head(0, 4)), 'expected a width and height of at least 1'],
    ['an impossible depth', file(head(1, 1, 4, 2)), 'expected a colour type and depth that go together, found 2 and 4'],
    ['two headers', file(head(), head()), 'expected only one header chunk'],
    [
      'a palette of half a colour',
      file(head(1, 1, 8, 3), chunk('PLTE', [1, 2])),
      'expected one palette of 1 to 256 colours before the pixels',
    ],
    ['no palette where one is needed', file(head(1, 1, 8, 3), pixel(), chunk('IEND')), 'expected a palette'],
    ['transparency behind the pixels', file(head(), pixel(), chunk('tRNS', [0, 0])), 'expected tRNS before the pixels'],
    ['pixels in two places', file(head(), pixel(), chunk('tEXt', [65, 0]), pixel()), 'expected IDAT chunks in one run'],
    ['an unknown critical chunk', file(head(), chunk('HUGE')), 'expected a chunk this reader knows, found HUGE'],
    ['a type that is none', file(head(), chunk('12!!')), 'expected a chunk type of four letters'],
    ['no pixels', file(head(), chunk('IEND')), 'expected pixels, found none'],
    [
      'pixels that do not unpack',
      file(head(), chunk('IDAT', [1, 2, 3, 4, 5, 6, 7, 8, 9]), chunk('IEND')),
      'expected pixel data that unpacks; the file is damaged',
    ],
    ['too few pixels', file(head(40, 40), pixel(), chunk('IEND')), 'the file is damaged'],
    [
      'a frame outside the canvas',
      file(head(), animation(1), control(0, 3, 1), pixel(), chunk('IEND')),
      'expected a frame that lies on the canvas',
    ],
    [
      'frames out of order',
      file(head(), animation(2), control(0), pixel(), control(5), chunk('IEND')),
      'expected animation chunk 1, found 5',
    ],
    [
      'an odd dispose',
      file(head(), animation(1), control(0, 1, 1, 7), pixel(), chunk('IEND')),
      'expected dispose 0 to 2 and blend 0 or 1',
    ],
    [
      'a frame without pixels',
      file(head(), animation(2), control(0), pixel(), control(1), chunk('IEND')),
      'expected pixels for frame 2, found none',
    ],
    [
      'frame data before its control',
      file(head(), animation(1), chunk('fdAT', [0, 0, 0, 0, 1])),
      'expected fdAT after its fcTL',
    ],
  ])('%s', (_what, bytes, sentence) => {
    expect(() => readPng(bytes)).toThrow(sentence)
  })

  it('a wrong frame count and bytes behind the end are put right with a word', () => {
    const bytes = joinBytes([file(head(), animation(9), control(0), pixel(), chunk('IEND')), toUtf8('tail')])
    const reading = readPng(bytes)
    expect(reading.frames.length).toBe(1)
    expect(reading.warnings).toEqual([
      "4 bytes after the picture's end were passed over.",
      'The file says 9 frames but holds 1; the frames count.',
    ])
  })
})

const TOO_LONG = 'A text in it (Title) is longer than a text may be, or does not unpack, and was passed over.'

describe('text in a PNG', () => {
  const itxt = (compressed: number, value: number[]) =>
    chunk('iTXt', [...toUtf8('Title'), 0, compressed, 0, 0, 0, ...value])
  const readText = (text: Uint8Array) => readPng(file(head(), text, pixel(), chunk('IEND'))).text

  it('is read plain and compressed', () => {
    expect(readText(itxt(0, [...toUtf8('Kelp')]))).toEqual({ Title: 'Kelp' })
    expect(readText(itxt(1, [...zlibSync(toUtf8('Kelp'))]))).toEqual({ Title: 'Kelp' })
  })

  it('is passed over with a word when it does not unpack, or unfolds to far too much: the picture counts', () => {
    for (const value of [[1, 2, 3, 4], [...zlibSync(new Uint8Array(2_000_000))]]) {
      const reading = readPng(file(head(), itxt(1, value), pixel(), chunk('IEND')))
      expect(reading.text).toEqual({})
      expect(reading.frames.length).toBe(1)
      expect(reading.warnings).toEqual([TOO_LONG])
    }
  })

  it('is passed over with a word when it is packed and too long, or has no keyword', () => {
    const long = [...toUtf8('Title'), 0, ...new Array(70_000).fill(65)]
    for (const type of ['tEXt', 'zTXt', 'iTXt'])
      expect(readPng(file(head(), chunk(type, long), pixel(), chunk('IEND'))).warnings).toEqual([TOO_LONG])
    expect(readPng(file(head(), chunk('tEXt', [65, 66, 67]), pixel(), chunk('IEND'))).warnings).toEqual([
      'A text in it that has no keyword was passed over (3 bytes).',
    ])
  })
})

describe('pixel data of a PNG', () => {
  const behind = (bytes: number) => chunk('IDAT', [...zlibSync(new Uint8Array(2 + bytes))])
  const read = (...chunks: Uint8Array[]) => readPng(file(head(), ...chunks, chunk('IEND')))

  it.each([1, 100, 5_000_000])('behind its last row is passed over with a word: %i bytes', (bytes) => {
    expect(read(behind(bytes)).warnings).toEqual([BEHIND_LAST_ROW])
  })

  it('that is not even packed is passed over with a word, and none where there is none', () => {
    expect(read(behind(0), chunk('IDAT', new Array(50_000).fill(7))).warnings).toEqual([BEHIND_LAST_ROW])
    expect(read(behind(0)).warnings).toEqual([])
    expect(read(behind(0), chunk('IDAT', [])).warnings).toEqual([])
  })
})

describe('every way a GIH can be malformed has its sentence', () => {
  const frame = writeGbr({ version: 2, name: 'f', spacingPct: 10, ...roundTip(2) })
  it.each([
    ['no line', toUtf8('no line end'), 'expected a line of text'],
    ['no count', toUtf8('name\nmany ncells:1\n'), 'expected a frame count'],
    ['no frames', toUtf8('name\n0 ncells:0\n'), 'expected at least one frame'],
    ['a pair that is none', joinBytes([toUtf8('name\n1 ncells\n'), frame]), 'expected key:value pairs, found "ncells"'],
    ['too many dimensions', joinBytes([toUtf8('name\n1 dim:9\n'), frame]), 'expected dim from 1 to 4'],
    ['a rank of nothing', joinBytes([toUtf8('name\n1 dim:1 rank0:0\n'), frame]), 'expected rank0 from 1 to 256'],
    [
      'bytes left over',
      joinBytes([toUtf8('name\n1 ncells:1\n'), frame, Uint8Array.of(1, 2)]),
      'expected the end after 1 frames, found 2 more bytes',
    ],
  ])('%s', (_what, bytes, sentence) => {
    expect(() => readGih(bytes)).toThrow(sentence)
  })
})

it('a zip without a directory, or with one beyond its end, is refused', async () => {
  await expect(listZip(toByteSource(toUtf8('PK nothing')))).rejects.toThrow(
    'expected the end of a directory; the archive is cut short or has bytes behind its end',
  )
  const end = new Uint8Array(22)
  const view = new DataView(end.buffer)
  view.setUint32(0, 0x06054b50, true)
  view.setUint16(10, 1, true)
  view.setUint32(12, 500, true)
  await expect(listZip(toByteSource(end))).rejects.toThrow(FormatError)
  view.setUint32(12, 0, true)
  await expect(listZip(toByteSource(end))).rejects.toThrow('expected a directory entry')
})
