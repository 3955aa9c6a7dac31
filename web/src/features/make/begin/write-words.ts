import type { Written } from '@satchel/core/make/written'

/** The letters that come with the product, by what they are in it. */
export const LETTERS: Record<Written['letters'], { label: string; family: string; heaviest: number }> = {
  serif: { label: 'with feet', family: '"Fraunces Variable"', heaviest: 900 },
  sans: { label: 'without feet', family: '"Hanken Grotesk Variable"', heaviest: 900 },
  mono: { label: 'all as wide', family: '"JetBrains Mono Variable"', heaviest: 800 },
}

/** The longer side of the picture of words, px. */
const SIDE_PX = 2048
/** Letters are measured at this size, px. */
const MEASURED_PX = 200
const LINE_HEIGHT = 1.25
const MARGIN = 0.25

export const usualWritten: Written = { words: '', letters: 'serif', weight: 600, spacing: 0 }

/** Draws words as large as a source wants them: black on nothing. */
export async function writeWords(written: Written): Promise<File> {
  const { words, letters, weight, spacing } = written
  const fontAt = (px: number) => `${Math.min(weight, LETTERS[letters].heaviest)} ${px}px ${LETTERS[letters].family}`
  await document.fonts.load(fontAt(MEASURED_PX), words)
  const lines = words.split('\n')
  const canvas = document.createElement('canvas')
  const context = canvas.getContext('2d')
  if (!context) throw new Error('this browser draws nothing')
  const setAt = (px: number) => {
    context.font = fontAt(px)
    context.letterSpacing = `${(px * spacing) / 100}px`
    context.textBaseline = 'alphabetic'
    context.textAlign = 'center'
  }
  setAt(MEASURED_PX)
  const widest = Math.max(...lines.map((line) => context.measureText(line).width), 1) + 2 * MARGIN * MEASURED_PX
  const high = (lines.length * LINE_HEIGHT + 2 * MARGIN) * MEASURED_PX
  const px = Math.min(SIDE_PX / widest, SIDE_PX / high) * MEASURED_PX
  canvas.width = Math.max(1, Math.round((widest * px) / MEASURED_PX))
  canvas.height = Math.max(1, Math.round((high * px) / MEASURED_PX))
  setAt(px)
  for (const [i, line] of lines.entries()) context.fillText(line, canvas.width / 2, (MARGIN + i * LINE_HEIGHT + 1) * px)
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
  if (!blob) throw new Error('the words are too many to be drawn')
  return new File([blob], `${words.replaceAll(/\s+/g, ' ').slice(0, 60)}.png`, { type: 'image/png' })
}
