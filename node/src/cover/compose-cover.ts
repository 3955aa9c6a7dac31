import { bandOf, COVER, COVER_MARGIN_PX, type CoverCrop, type CoverPlan } from '@satchel/core/cover/cover'
import { FormatError, LimitError } from '@satchel/core/errors'
import { checkPictureSize, PICTURE_PIXELS_MAX } from '@satchel/core/limits'
import sharp from 'sharp'
import { drawLine, type Line, setText } from '../lettering/set-text.ts'

const TITLE_PX = 132
const TITLE_LEAST_PX = 48
const STEP_PX = 12
const LINES_MAX = 3
const LEAD = 1.15
/** Where letters stand in their line, from its top. */
const BASE_LINE = 0.8

/** The largest letters with which a title takes no more than three lines. */
function setTitle(title: string): { lines: Line[]; sizePx: number } {
  for (let sizePx = TITLE_PX; ; sizePx -= STEP_PX) {
    const lines = setText('title', title, (COVER.width - 2 * COVER_MARGIN_PX) / sizePx)
    if (lines.length <= LINES_MAX || sizePx <= TITLE_LEAST_PX) return { lines, sizePx }
  }
}

const TOPS: Record<CoverPlan['titlePlace'], (room: number) => number> = {
  above: () => COVER_MARGIN_PX,
  middle: (room) => room / 2,
  below: (room) => room - COVER_MARGIN_PX,
}

/** A title as outlines of its letters. */
function drawTitle({ title, titleColour, titlePlace }: CoverPlan): string {
  if (title === '') return ''
  const { lines, sizePx } = setTitle(title)
  const top = TOPS[titlePlace](COVER.height - lines.length * sizePx * LEAD)
  const paths = lines.map((line, i) =>
    drawLine(line, { x: COVER_MARGIN_PX, y: top + (i * LEAD + BASE_LINE) * sizePx, sizePx }),
  )
  return `<g fill="${titleColour}">${paths.join('')}</g>`
}

/**
 * Puts a cover together.
 *
 * @param strokes The strokes of the plan, in its order, as PNG of the size of their bands.
 * @returns A PNG, 1600 x 900 px.
 */
export async function composeCover(plan: CoverPlan, strokes: readonly Uint8Array[]): Promise<Uint8Array> {
  const layers = plan.strokes.flatMap((stroke, i) => {
    const png = strokes[i]
    const { left, top } = bandOf(stroke)
    return png ? [{ input: Buffer.from(png), left, top }] : []
  })
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${COVER.width}" height="${COVER.height}">${drawTitle(plan)}</svg>`
  return sharp({ create: { ...COVER, channels: 3, background: plan.ground } })
    .composite([...layers, { input: Buffer.from(svg), left: 0, top: 0 }])
    .png()
    .toBuffer()
}

/** What a picture says of itself; undefined where it is none. */
async function describe(input: Buffer) {
  try {
    return await sharp(input, { limitInputPixels: false }).metadata()
  } catch {
    return undefined
  }
}

const KINDS = ['png', 'jpeg', 'webp']

/**
 * A part of a picture as a cover.
 *
 * @throws {FormatError} If it is none that is taken. @throws {LimitError} If it has more pixels than are taken; none of them is
 * made then.
 * @returns A PNG, 1600 x 900 px, upright, without anything else that the picture said.
 */
export async function cropCover(bytes: Uint8Array, crop: CoverCrop): Promise<Uint8Array> {
  const input = Buffer.from(bytes)
  const found = await describe(input)
  if (!found || !KINDS.includes(found.format ?? ''))
    throw new FormatError('cover', undefined, 'a PNG, JPEG or WebP picture')
  const { width, height } = found.autoOrient
  checkPictureSize(width, height)
  const left = Math.min(width - 1, Math.round(crop.left * width))
  const top = Math.min(height - 1, Math.round(crop.top * height))
  const part = {
    left,
    top,
    width: Math.max(1, Math.min(width - left, Math.round(crop.width * width))),
    height: Math.max(1, Math.min(height - top, Math.round(crop.height * height))),
  }
  try {
    return await sharp(input, { limitInputPixels: PICTURE_PIXELS_MAX, failOn: 'error' })
      .autoOrient()
      .extract(part)
      .resize(COVER.width, COVER.height, { fit: 'cover' })
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .png()
      .toBuffer()
  } catch (cause) {
    if (cause instanceof LimitError) throw cause
    throw new FormatError('cover', undefined, 'a whole picture', { cause })
  }
}
