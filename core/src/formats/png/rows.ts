import { COLOUR_TYPE, type ColourType, type PngParts } from './layout.ts'

/**
 * Brings a row of unfiltered bytes to 8-bit grey or straight RGBA: `count` pixels, the first written at `at`, each `step`
 * places behind the one before.
 */
export type RowReader = (row: Uint8Array, count: number, out: Uint8Array, at: number, step: number) => void

/** Channels of the picture that rows are read into: grey stays one channel unless one grey is transparent. */
export const channelsOf = ({ header, transparency }: Pick<PngParts, 'header' | 'transparency'>): 1 | 4 =>
  header.colourType === COLOUR_TYPE.grey && !transparency ? 1 : 4

/** A row's samples, one array element each, at the file's own depth. */
type Samples = Uint8Array | Uint16Array
type Converter = (samples: Samples, count: number, out: Uint8Array, at: number, step: number) => void

/** Reads rows of any colour type and depth; sixteen bits are rounded to eight (W3C PNG, section 13.12). */
export function createRowReader(parts: PngParts, width: number): RowReader {
  const { depth, colourType } = parts.header
  const channels = channelsOf(parts)
  const unpack = createUnpacker(depth, width * SAMPLES[colourType])
  const convert = CONVERTERS[colourType](parts)
  const isAsStored = depth === 8 && channels === SAMPLES[colourType]
  return (row, count, out, at, step) => {
    if (isAsStored && step === channels) out.set(row.subarray(0, count * channels), at)
    else convert(unpack(row, count * SAMPLES[colourType]), count, out, at, step)
  }
}

/** Samples a pixel of each colour type. */
export const SAMPLES: Record<ColourType, number> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 }

/** Rows of 1, 2 or 4 bits begin on a byte each, the leftmost sample in the high bits; 16 bits come high byte first. */
function createUnpacker(depth: number, samplesMax: number): (row: Uint8Array, count: number) => Samples {
  if (depth === 8) return (row) => row
  const out = new Uint16Array(samplesMax)
  if (depth === 16) {
    return (row, count) => {
      for (let i = 0; i < count; i++) out[i] = (row[2 * i] << 8) | row[2 * i + 1]
      return out
    }
  }
  const mask = (1 << depth) - 1
  return (row, count) => {
    for (let i = 0, bit = 0; i < count; i++, bit += depth) out[i] = (row[bit >> 3] >> (8 - depth - (bit & 7))) & mask
    return out
  }
}

const CONVERTERS: Record<ColourType, (parts: PngParts) => Converter> = {
  0: (parts) => {
    const to8 = scaleTo8(parts.header.depth)
    const [clear] = clearColour(parts)
    if (clear === undefined) {
      return (samples, count, out, at, step) => {
        for (let i = 0, o = at; i < count; i++, o += step) out[o] = to8(samples[i])
      }
    }
    return (samples, count, out, at, step) => {
      for (let i = 0, o = at; i < count; i++, o += step) {
        out[o] = out[o + 1] = out[o + 2] = to8(samples[i])
        out[o + 3] = samples[i] === clear ? 0 : 255
      }
    }
  },
  2: (parts) => {
    const to8 = scaleTo8(parts.header.depth)
    const [r, g, b] = clearColour(parts)
    return (samples, count, out, at, step) => {
      for (let k = 0, i = 0, o = at; k < count; k++, i += 3, o += step) {
        for (let c = 0; c < 3; c++) out[o + c] = to8(samples[i + c])
        out[o + 3] = samples[i] === r && samples[i + 1] === g && samples[i + 2] === b ? 0 : 255
      }
    }
  },
  3: ({ palette = new Uint8Array(0), transparency = new Uint8Array(0) }) => {
    const colours = new Uint8Array(256 * 4)
    for (let entry = 0; entry < 256; entry++) {
      colours.set(palette.subarray(entry * 3, entry * 3 + 3), entry * 4)
      colours[entry * 4 + 3] = transparency[entry] ?? 255
    }
    return (samples, count, out, at, step) => {
      for (let i = 0, o = at; i < count; i++, o += step) {
        for (let c = 0; c < 4; c++) out[o + c] = colours[samples[i] * 4 + c]
      }
    }
  },
  4: (parts) => {
    const to8 = scaleTo8(parts.header.depth)
    return (samples, count, out, at, step) => {
      for (let k = 0, i = 0, o = at; k < count; k++, i += 2, o += step) {
        out[o] = out[o + 1] = out[o + 2] = to8(samples[i])
        out[o + 3] = to8(samples[i + 1])
      }
    }
  },
  6: (parts) => {
    const to8 = scaleTo8(parts.header.depth)
    return (samples, count, out, at, step) => {
      for (let k = 0, i = 0, o = at; k < count; k++, i += 4, o += step)
        for (let c = 0; c < 4; c++) out[o + c] = to8(samples[i + c])
    }
  },
}

/** The grey or colour that tRNS makes transparent, in samples of the file's depth; empty where it names none. */
function clearColour({ header, transparency }: PngParts): number[] {
  const colour: number[] = []
  if (!transparency) return colour
  const mask = 2 ** header.depth - 1 // only the low bits count (section 11.3.1.1)
  for (let i = 0; i + 1 < transparency.length; i += 2) colour.push((transparency[i] * 256 + transparency[i + 1]) & mask)
  return colour
}

function scaleTo8(depth: number): (sample: number) => number {
  if (depth === 8) return (sample) => sample
  if (depth === 16) return (sample) => (sample * 255 + 32_895) >> 16 // rounds sample · 255 / 65535
  const factor = 255 / ((1 << depth) - 1)
  return (sample) => sample * factor
}
