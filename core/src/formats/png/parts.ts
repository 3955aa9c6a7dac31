import { FormatError, LimitError } from '../../errors.ts'
import { checkAnimationSize, checkPictureSize, FRAMES_MAX } from '../../limits.ts'
import { hasBytesAt } from '../bytes.ts'
import { type Crc32, crc32 as plainCrc32 } from '../crc32.ts'
import {
  COLOUR_TYPE,
  type ColourType,
  DEPTHS,
  PNG,
  type PngFrameChunk,
  type PngHeader,
  type PngParts,
  SIGNATURE,
} from './layout.ts'
import { readText, TEXT_CHUNKS } from './text.ts'

const CHUNK_FRAME_BYTES = 12 // length, type, checksum
const ANCILLARY_BIT = 0x20 // lower-case first letter: a reader may pass it over
const GAMMA_UNIT = 100_000
/** Texts of one picture that are read. */
const TEXTS_MAX = 100

type Chunk = { type: string; start: number; data: Uint8Array }
type Walk = PngParts & {
  ended: boolean
  sawData: boolean
  dataClosed: boolean
  sequence: number
  /** Texts that were met so far. */
  texts: number
  stated?: number
  srgb: boolean
}

/**
 * Takes a PNG apart: every chunk's length, checksum and place is checked before its content is used.
 * @param options.crc32 A faster checksum, where the platform has one.
 * @throws {FormatError} At the first chunk that breaks the specification.
 * @throws {LimitError} If the picture or its number of frames is too large.
 */
export function readPngParts(bytes: Uint8Array, { crc32 = plainCrc32 }: { crc32?: Crc32 } = {}): PngParts {
  if (!hasBytesAt(bytes, 0, SIGNATURE)) throw new FormatError(PNG, 0, 'the PNG signature')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let walk: Walk | undefined
  let at = SIGNATURE.length
  while (!walk?.ended) {
    const chunk = readChunk(bytes, view, at, crc32)
    if (!walk) walk = startWalk(chunk)
    else takeChunk(walk, chunk)
    at += CHUNK_FRAME_BYTES + chunk.data.length
  }
  if (at < bytes.length) walk.warnings.push(`${bytes.length - at} bytes after the picture's end were passed over.`)
  return finishWalk(walk, at)
}

function readChunk(bytes: Uint8Array, view: DataView, at: number, crc32: Crc32): Chunk {
  if (at + CHUNK_FRAME_BYTES > bytes.length)
    throw new FormatError(PNG, bytes.length, 'another chunk; the file is cut short')
  const length = view.getUint32(at)
  if (length > bytes.length - at - CHUNK_FRAME_BYTES) {
    throw new FormatError(PNG, at, `a chunk that ends inside the file; the file is cut short`)
  }
  const type = String.fromCharCode(bytes[at + 4], bytes[at + 5], bytes[at + 6], bytes[at + 7])
  if (!/^[A-Za-z]{4}$/.test(type)) throw new FormatError(PNG, at + 4, 'a chunk type of four letters')
  if (crc32(bytes.subarray(at + 4, at + 8 + length)) !== view.getUint32(at + 8 + length)) {
    throw new FormatError(PNG, at + 8 + length, `the checksum of its ${type} chunk; the file is damaged`)
  }
  return { type, start: at, data: bytes.subarray(at + 8, at + 8 + length) }
}

function startWalk({ type, start, data }: Chunk): Walk {
  if (type !== 'IHDR' || data.length !== 13) throw new FormatError(PNG, start, 'the header chunk IHDR first')
  const view = viewOf(data)
  const width = view.getUint32(0)
  const height = view.getUint32(4)
  const depth = data[8]
  const colourType = data[9]
  if (width === 0 || height === 0) throw new FormatError(PNG, start + 8, 'a width and height of at least 1')
  if (!DEPTHS[colourType]?.includes(depth)) {
    throw new FormatError(PNG, start + 16, `a colour type and depth that go together, found ${colourType} and ${depth}`)
  }
  if (data[10] !== 0 || data[11] !== 0 || data[12] > 1) {
    throw new FormatError(PNG, start + 18, 'compression 0, filter 0 and interlace 0 or 1')
  }
  checkPictureSize(width, height)
  const header: PngHeader = {
    width,
    height,
    depth,
    colourType: colourType as PngHeader['colourType'],
    interlaced: data[12] === 1,
  }
  return {
    header,
    text: {},
    frames: [],
    animated: false,
    warnings: [],
    ended: false,
    sawData: false,
    dataClosed: false,
    sequence: 0,
    texts: 0,
    srgb: false,
    hasProfile: false,
  }
}

function takeChunk(walk: Walk, chunk: Chunk): void {
  if (chunk.type !== 'IDAT' && walk.sawData) walk.dataClosed = true
  const take = TAKERS.get(chunk.type)
  if (take) take(walk, chunk)
  else if (!(chunk.type.charCodeAt(0) & ANCILLARY_BIT))
    throw new FormatError(PNG, chunk.start, `a chunk this reader knows, found ${chunk.type}`)
}

/** What each kind of chunk does to the walk; others are passed over where the specification allows it. */
const TAKERS = new Map<string, (walk: Walk, chunk: Chunk) => void>([
  [
    'IHDR',
    (_walk, { start }) => {
      throw new FormatError(PNG, start, 'only one header chunk')
    },
  ],
  [
    'PLTE',
    (walk, { start, data }) => {
      if (data.length === 0 || data.length % 3 !== 0 || data.length > 768 || walk.sawData || walk.palette)
        throw new FormatError(PNG, start, 'one palette of 1 to 256 colours before the pixels')
      walk.palette = data
    },
  ],
  [
    'tRNS',
    (walk, { start, data }) => {
      if (walk.sawData) throw new FormatError(PNG, start, 'tRNS before the pixels')
      const [least, most] = TRANSPARENCY_BYTES[walk.header.colourType]
      if (data.length < least || data.length > most)
        throw new FormatError(PNG, start, `${least} to ${most} bytes of tRNS, found ${data.length}`)
      if (least > 0) walk.transparency = data // with an alpha channel it says nothing
    },
  ],
  [
    'IDAT',
    (walk, { start, data }) => {
      if (walk.dataClosed) throw new FormatError(PNG, start, 'IDAT chunks in one run')
      takeStillData(walk, data)
    },
  ],
  [
    'IEND',
    (walk) => {
      walk.ended = true
    },
  ],
  [
    'acTL',
    (walk, { start, data }) => {
      if (data.length !== 8 || walk.sawData) throw new FormatError(PNG, start, 'acTL of 8 bytes before the pixels')
      walk.stated = viewOf(data).getUint32(0)
      walk.animated = true
    },
  ],
  ['fcTL', (walk, { start, data }) => takeFrameControl(walk, data, start)],
  [
    'fdAT',
    (walk, { start, data }) => {
      const frame = walk.frames.at(-1)
      if (!frame || data.length < 4 || !walk.sawData) throw new FormatError(PNG, start, 'fdAT after its fcTL')
      takeSequence(walk, viewOf(data).getUint32(0), start)
      frame.data.push(data.subarray(4))
    },
  ],
  [
    'gAMA',
    (walk, { data }) => {
      if (data.length === 4) walk.gamma = viewOf(data).getUint32(0) / GAMMA_UNIT
    },
  ],
  // a colour space of its own counts more than gAMA
  ...['sRGB', 'iCCP', 'cICP'].map((type): [string, (walk: Walk) => void] => [
    type,
    (walk) => {
      walk.srgb = true
      if (type !== 'sRGB') walk.hasProfile = true
    },
  ]),
  [
    'pHYs',
    (walk, { data }) => {
      if (data.length === 9 && data[8] === 1) walk.pixelsPerMetre = viewOf(data).getUint32(0)
    },
  ],
  ...TEXT_CHUNKS.map((type): [string, (walk: Walk, chunk: Chunk) => void] => [
    type,
    (walk, { data }) => {
      if (++walk.texts > TEXTS_MAX) {
        if (walk.texts === TEXTS_MAX + 1) walk.warnings.push(`Of its texts the first ${TEXTS_MAX} were read.`)
        return
      }
      const found = readText(type, data)
      if (!found) {
        walk.warnings.push(`A text in it that has no keyword was passed over (${data.length} bytes).`)
        return
      }
      if (found.text !== undefined) walk.text[found.keyword] = found.text
      else
        walk.warnings.push(
          `A text in it (${found.keyword}) is longer than a text may be, or does not unpack, and was passed over.`,
        )
    },
  ]),
])

/** Least and most bytes of tRNS by colour type: one grey, one colour, or an alpha for each entry of a palette. */
const TRANSPARENCY_BYTES: Record<ColourType, readonly [least: number, most: number]> = {
  0: [2, 2],
  2: [6, 6],
  3: [1, 256],
  4: [0, Number.POSITIVE_INFINITY],
  6: [0, Number.POSITIVE_INFINITY],
}

function takeStillData(walk: Walk, data: Uint8Array): void {
  const { header } = walk
  if (!walk.sawData && walk.frames.length === 0) {
    walk.frames.push({
      x: 0,
      y: 0,
      width: header.width,
      height: header.height,
      delayMs: 0,
      dispose: 0,
      blend: 0,
      data: [],
    })
    // A still picture before the first fcTL is what readers without animation show; it is no frame (section 11.3.6).
    if (walk.animated) walk.frames[0].delayMs = -1
  }
  walk.sawData = true
  walk.frames[walk.frames.length - 1].data.push(data)
}

function takeFrameControl(walk: Walk, data: Uint8Array, start: number): void {
  if (data.length !== 26) throw new FormatError(PNG, start, 'fcTL of 26 bytes')
  if (walk.frames.length >= FRAMES_MAX + 1) throw new LimitError('the frame count', walk.frames.length, FRAMES_MAX)
  const view = viewOf(data)
  takeSequence(walk, view.getUint32(0), start)
  const frame: PngFrameChunk = {
    width: view.getUint32(4),
    height: view.getUint32(8),
    x: view.getUint32(12),
    y: view.getUint32(16),
    delayMs: (1000 * view.getUint16(20)) / (view.getUint16(22) || 100),
    dispose: data[24],
    blend: data[25],
    data: [],
  }
  const { width, height } = walk.header
  const fits = frame.width > 0 && frame.height > 0 && frame.x + frame.width <= width && frame.y + frame.height <= height
  if (!fits) throw new FormatError(PNG, start, 'a frame that lies on the canvas')
  if (frame.dispose > 2 || frame.blend > 1) throw new FormatError(PNG, start, 'dispose 0 to 2 and blend 0 or 1')
  const first = walk.frames.length === 0
  if (first && !walk.sawData && (frame.width !== width || frame.height !== height)) {
    throw new FormatError(PNG, start, 'a first frame as large as the canvas')
  }
  walk.frames.push(frame)
}

function takeSequence(walk: Walk, found: number, start: number): void {
  if (found !== walk.sequence) throw new FormatError(PNG, start, `animation chunk ${walk.sequence}, found ${found}`)
  walk.sequence++
}

function finishWalk(walk: Walk, at: number): PngParts {
  const { header, palette, transparency, text, animated, warnings } = walk
  if (!walk.sawData) throw new FormatError(PNG, at, 'pixels, found none')
  if (header.colourType === COLOUR_TYPE.palette && !palette) throw new FormatError(PNG, at, 'a palette')
  const frames = walk.frames.filter((frame) => frame.delayMs >= 0)
  if (animated && frames.length > 0 && walk.stated !== frames.length) {
    warnings.push(`The file says ${walk.stated} frames but holds ${frames.length}; the frames count.`)
  }
  if (frames.length > 1) checkAnimationSize(frames.length, header.width, header.height)
  const empty = frames.findIndex((frame) => frame.data.length === 0)
  if (empty >= 0) throw new FormatError(PNG, at, `pixels for frame ${empty + 1}, found none`)
  return {
    header,
    palette,
    transparency,
    gamma: walk.srgb ? undefined : walk.gamma,
    hasProfile: walk.hasProfile,
    pixelsPerMetre: walk.pixelsPerMetre,
    text,
    frames: frames.length > 0 ? frames : walk.frames.map((frame) => ({ ...frame, delayMs: 0 })),
    animated: animated && frames.length > 0,
    warnings,
  }
}

const viewOf = (data: Uint8Array) => new DataView(data.buffer, data.byteOffset, data.byteLength)
