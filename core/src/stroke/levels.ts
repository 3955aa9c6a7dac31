import type { Coverage } from '../brush/coverage.ts'

/** One prefiltered size of a frame, with a border of one empty pixel so that sampling never needs a bounds check. */
export type Level = { width: number; height: number; stride: number; data: Uint8Array }

/** A frame ready to stamp: level k is the frame halved k times; colour is premultiplied. */
export type PreparedFrame = { width: number; height: number; channels: 1 | 4; levels: Level[] }

const BORDER = 1

/** Prefilters a frame by repeated halving (2 x 2 means), down to one pixel. */
export function prepareFrame(coverage: Coverage): PreparedFrame {
  const { width, height, channels } = coverage
  const levels = [addBorder(channels === 4 ? premultiply(coverage.data) : coverage.data, width, height, channels)]
  for (let last = levels[0]; last.width > 1 || last.height > 1; last = levels[levels.length - 1]) {
    levels.push(halve(last, channels))
  }
  return { width, height, channels, levels }
}

function addBorder(data: Uint8Array, width: number, height: number, channels: number): Level {
  const level = emptyLevel(width, height, channels)
  const rowBytes = width * channels
  for (let y = 0; y < height; y++) {
    level.data.set(data.subarray(y * rowBytes, (y + 1) * rowBytes), ((y + BORDER) * level.stride + BORDER) * channels)
  }
  return level
}

/** Odd sizes round up; the missing half counts as empty, which is what lies outside a tip anyway. */
function halve(from: Level, channels: number): Level {
  const to = emptyLevel(Math.ceil(from.width / 2), Math.ceil(from.height / 2), channels)
  const down = from.stride * channels
  for (let y = 0; y < to.height; y++) {
    let i = ((2 * y + BORDER) * from.stride + BORDER) * channels
    let o = ((y + BORDER) * to.stride + BORDER) * channels
    for (let x = 0; x < to.width; x++, i += channels) {
      for (let c = 0; c < channels; c++, i++, o++) {
        const sum = from.data[i] + from.data[i + channels] + from.data[i + down] + from.data[i + down + channels]
        to.data[o] = (sum + 2) >> 2
      }
    }
  }
  return to
}

function emptyLevel(width: number, height: number, channels: number): Level {
  const stride = width + 2 * BORDER
  return { width, height, stride, data: new Uint8Array(stride * (height + 2 * BORDER) * channels) }
}

function premultiply(data: Uint8Array): Uint8Array {
  const out = new Uint8Array(data.length)
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]
    for (let c = 0; c < 3; c++) out[i + c] = Math.round((data[i + c] * alpha) / 255)
    out[i + 3] = alpha
  }
  return out
}
