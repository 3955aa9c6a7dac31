import { THUMBNAIL_SIZE } from '@satchel/core/brush/thumbnail'
import { isBlank } from '@satchel/core/raster/blank'

const { width, height } = THUMBNAIL_SIZE
const GROUND = 'rgb(247 247 247)'
const INK = 'rgb(24 24 24)'
const FAMILY = '"Fraunces Variable", serif'
const MARGIN_PX = 16
const LETTERS_MAX_PX = 64
const LINE_HEIGHT = 1.15

/** A part of a picture, in percent of its width and height. */
export type Region = { x: number; y: number; width: number; height: number }

export const THUMBNAIL_ASPECT = width / height

const clear = (canvas: HTMLCanvasElement): CanvasRenderingContext2D => {
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) throw new Error('this browser gives no 2D canvas')
  context.fillStyle = GROUND
  context.fillRect(0, 0, width, height)
  return context
}

/** Draws a region of a picture over the whole thumbnail. */
export function drawRegion(canvas: HTMLCanvasElement, picture: HTMLImageElement, region: Region): void {
  const context = clear(canvas)
  context.imageSmoothingQuality = 'high'
  const [w, h] = [picture.naturalWidth / 100, picture.naturalHeight / 100]
  context.drawImage(picture, region.x * w, region.y * h, region.width * w, region.height * h, 0, 0, width, height)
}

/** Writes words as large as they fit, on one line or two. */
export function drawWords(canvas: HTMLCanvasElement, text: string): void {
  const context = clear(canvas)
  const sizes = linings(text).map((lines) => ({ lines, letterPx: fitLetters(context, lines) }))
  const best = sizes.reduce((a, b) => (b.letterPx > a.letterPx ? b : a))
  context.font = `${best.letterPx}px ${FAMILY}`
  context.fillStyle = INK
  context.textAlign = 'center'
  context.textBaseline = 'middle'
  best.lines.forEach((line, i) => {
    const y = height / 2 + (i - (best.lines.length - 1) / 2) * best.letterPx * LINE_HEIGHT
    context.fillText(line, width / 2, y)
  })
}

/** The text as it is, and broken in two at each of its spaces. */
export function linings(text: string): [string, ...string[]][] {
  const words = text.trim().split(/\s+/)
  const broken = words
    .slice(1)
    .map((_, i): [string, string] => [words.slice(0, i + 1).join(' '), words.slice(i + 1).join(' ')])
  return [[words.join(' ')], ...broken]
}

function fitLetters(context: CanvasRenderingContext2D, lines: readonly string[]): number {
  context.font = `${LETTERS_MAX_PX}px ${FAMILY}`
  const widest = Math.max(1, ...lines.map((line) => context.measureText(line).width))
  const across = (LETTERS_MAX_PX * (width - 2 * MARGIN_PX)) / widest
  const down = (height - 2 * MARGIN_PX) / (lines.length * LINE_HEIGHT)
  return Math.floor(Math.min(LETTERS_MAX_PX, across, down))
}

/** Loads the letters that words are written in. */
export const loadLetters = async (): Promise<void> => {
  await document.fonts.load(`${LETTERS_MAX_PX}px ${FAMILY}`)
}

/** Whether nothing of a drawn thumbnail can be seen. */
export function isBlankCanvas(canvas: HTMLCanvasElement): boolean {
  const { data } = canvas.getContext('2d')?.getImageData(0, 0, width, height) ?? {}
  return !data || isBlank({ width, height, channels: 4, data: new Uint8Array(data.buffer) })
}

/** A drawn thumbnail as a PNG file. */
export const toPng = (canvas: HTMLCanvasElement): Promise<Blob> =>
  new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('the picture could not be written'))),
      'image/png',
    ),
  )
