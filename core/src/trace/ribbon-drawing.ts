const LAYS = ['stretched', 'repeated'] as const

/** How a drawing is laid along a path: its length from the left that leads in, and from the right that leads out. */
export type RibbonBounds = { lay: (typeof LAYS)[number]; leadInPx: number; leadOutPx: number }

/**
 * A ribbon's bounds as attributes of its drawing, in the drawing's own units. Attributes that begin with "data-" are for
 * whoever writes them (SVG 2, 5.6), and change nothing of how it looks.
 */
export const ribbonAttributes = ({ lay, leadInPx, leadOutPx }: RibbonBounds): string =>
  ` data-ribbon="${lay}" data-lead-in="${leadInPx}" data-lead-out="${leadOutPx}"`

/**
 * The bounds that a drawing tells of itself, scaled to the picture that was drawn of it.
 * @param attributes Those of its root. @param widthPx The picture's width.
 * @returns Undefined where it is no ribbon, or its bounds do not leave anything between them.
 */
export function readRibbonBounds(
  attributes: Readonly<Record<string, string>>,
  widthPx: number,
): RibbonBounds | undefined {
  const lay = LAYS.find((each) => each === attributes['data-ribbon'])
  const own = Number(attributes.viewBox?.trim().split(/[\s,]+/)[2] ?? attributes.width)
  if (!lay || !(own > 0)) return undefined
  const [leadInPx, leadOutPx] = ['data-lead-in', 'data-lead-out'].map((name) =>
    Math.round((Number(attributes[name] ?? 0) * widthPx) / own),
  )
  const isWhole = leadInPx >= 0 && leadOutPx >= 0 && leadInPx + leadOutPx < widthPx
  return isWhole ? { lay, leadInPx, leadOutPx } : undefined
}
