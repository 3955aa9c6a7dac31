/** Points of a millimetre and of a pixel in print. */
export const MM = 72 / 25.4
export const DOTS_PER_INCH = 300

/** What a sheet can be printed on, in points. */
export const PAPERS = {
  a4: { name: 'A4', width: 210 * MM, height: 297 * MM },
  letter: { name: 'Letter', width: 612, height: 792 },
} as const
export type Paper = keyof typeof PAPERS
export const PAPER_NAMES = Object.keys(PAPERS) as [Paper, ...Paper[]]

/** Where things stand on a page, in points. The same on all papers: they differ by less than their margins. */
export const MARGIN = 18 * MM
export const TIP = 16 * MM
export const STROKE = { width: 88 * MM, height: 18 * MM }
export const GAP = 4 * MM
/** The least height of a brush's line. */
export const LINE = 22 * MM
/** How far above the next line the rule between two lines is. */
export const RULE_UP = 2 * MM
/** What is left for words on a paper. */
export const wordsWidth = (paper: Paper): number => PAPERS[paper].width - 2 * MARGIN - TIP - STROKE.width - 2 * GAP
export const WORDS_LEFT = MARGIN + TIP + STROKE.width + 2 * GAP

const toPx = (points: number) => Math.round((points / 72) * DOTS_PER_INCH)
/** The sizes that strokes and tips are painted in for print, px. */
export const PRINTED = {
  stroke: { width: toPx(STROKE.width), height: toPx(STROKE.height) },
  tip: { width: toPx(TIP), height: toPx(TIP) },
} as const

/** Brushes of one picture: beyond them no screen shows it, and it takes a gigabyte to hold. */
export const PICTURE_BRUSHES_MAX = 200
/** A set as a picture, px. */
export const PICTURE = { widthPx: 1600, marginPx: 60, gutterPx: 40, columns: 2 } as const
const columnPx = (PICTURE.widthPx - 2 * PICTURE.marginPx - PICTURE.gutterPx * (PICTURE.columns - 1)) / PICTURE.columns
/** The size that strokes are painted in for it, px: of the shape they have on paper. */
export const PICTURE_STROKE = {
  width: columnPx,
  height: Math.round((columnPx * PRINTED.stroke.height) / PRINTED.stroke.width),
} as const
