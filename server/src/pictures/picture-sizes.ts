import type { StrokeWish } from './renders.ts'

/**
 * The sizes that strokes are rendered in, px: one a place where they are shown. No others are, since each that anybody asks
 * for would be kept.
 */
export const STROKE_SIZES = {
  line: { width: 420, height: 52, what: 'list' },
  label: { width: 420, height: 60, what: 'list' },
  cover: { width: 480, height: 72, what: 'list' },
  pocket: { width: 150, height: 72, what: 'list' },
  version: { width: 400, height: 64, what: 'list' },
  gauge: { width: 1600, height: 1200, what: 'gauge' },
  sketch: { width: 320, height: 200, what: 'gauge' },
} as const satisfies Record<string, Pick<StrokeWish, 'width' | 'height' | 'what'>>

export type StrokeSize = keyof typeof STROKE_SIZES
export const STROKE_SIZE_NAMES = Object.keys(STROKE_SIZES) as [StrokeSize, ...StrokeSize[]]

/** The longer sides that tips are shown with, px. */
export const TIP_SIDES_PX = [64, 88, 96, 144, 256] as const

/** The longer sides that sources are shown with, px: on the workbench, and at work. */
export const PREVIEW_SIDES_PX = [320, 1600] as const

/** The side of a tip in a line of a list, px: twice what it shows. */
export const LIST_TIP_SIDE_PX = 88
