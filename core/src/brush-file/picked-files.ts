import type { BrushFileKind } from './kinds.ts'

/**
 * How files of each kind usually end, and by what a picker of files knows them where it has a name for them; beside
 * `kinds.ts`, whose readers no picker needs. Never used to tell what a file is.
 */
const PICKED: Record<BrushFileKind, readonly string[]> = {
  png: ['image/png', '.png', '.apng'],
  jpeg: ['image/jpeg', '.jpg', '.jpeg'],
  tiff: ['image/tiff', '.tif', '.tiff'],
  webp: ['image/webp', '.webp'],
  gbr: ['.gbr'],
  gih: ['.gih'],
  svg: ['image/svg+xml', '.svg'],
  openraster: ['.ora'],
  obj: ['.obj'],
  stl: ['.stl'],
}
const MODELS: readonly BrushFileKind[] = ['obj', 'stl']

/** Every kind that is taken. */
export const EVERY_KIND = Object.keys(PICKED) as BrushFileKind[]
/** Those that are a picture, or several. */
export const PICTURE_KINDS = EVERY_KIND.filter((kind) => !MODELS.includes(kind))

/** What a picker of files offers, as HTML's attribute `accept` lists it. */
export const pickerList = (kinds: readonly BrushFileKind[]): string => kinds.flatMap((kind) => PICKED[kind]).join(',')
