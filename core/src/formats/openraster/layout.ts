import { BLEND_MODES, type BlendMode } from '../../raster/blend.ts'
import { hasBytesAt } from '../bytes.ts'
import { toUtf8 } from '../text.ts'

/** What the format is called in messages. */
export const OPENRASTER = 'OpenRaster'
/** The first entry is `mimetype`, stored, with these bytes behind its local header of 30 bytes and its name of 8. */
const MIMETYPE = toUtf8('mimetypeimage/openraster')
const NAME_AT = 30

export const looksLikeOpenRaster = (head: Uint8Array): boolean => hasBytesAt(head, NAME_AT, [...MIMETYPE])

/** Layers and groups of one file; more are no drawing. */
export const LAYERS_MAX = 1000
/** Groups within groups. */
export const NESTING_MAX = 32
/** The list of layers, bytes. */
export const STACK_MAX_BYTES = 4 * 1024 * 1024

/**
 * How a layer meets what is below: a blend mode of W3C Compositing and Blending Level 1, or one of its operators. The
 * names are those of the specification, with "svg:" before them; source-over is called by its short name.
 */
export type LayerOp = BlendMode | 'dst-in' | 'dst-out' | 'src-atop' | 'dst-atop' | 'plus'

const OPERATORS = ['dst-in', 'dst-out', 'src-atop', 'dst-atop', 'plus'] as const

/** @returns Undefined for a name that is not known. */
export function toLayerOp(name: string): LayerOp | undefined {
  const bare = name.replace(/^svg:/, '')
  if (bare === 'src-over') return 'normal'
  return [...BLEND_MODES, ...OPERATORS].find((each) => each === bare)
}
