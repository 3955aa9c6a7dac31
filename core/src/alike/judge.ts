import { type Agreement, compareMarks } from './compare-marks.ts'
import type { Difference } from './differences.ts'
import type { Mark } from './mark.ts'

// Found by trial: 88 drawn tips saved again, scaled, with other levels and through JPEG at qualities 80 and 50, and 6,878
// pieces of clip art looked at pair by pair (docs/alike.md has the counts).
const SHAPE_FROM = 0.955
const INSIDE_FROM = 0.85
/** Largest difference of shape; where colours are compared too, a lossy file may fray the rim. */
const DIFFERENCE_MAX = { mask: 0.25, colours: 0.4 }
const RATIO_OFF_MAX = 0.1
const TONE_FROM = 0.7
/** Largest difference of lightness: in the same colours, and in others, whose light and dark never keep step wholly. */
const TONE_WORST_MAX = { same: 0.14, other: 0.22 }
/** Where lightness differs by no more than this anywhere, its correlation is one of rims only. */
const TONE_WORST_NONE = 0.03
/** Mean distance in OKLab of colours that are the same but for grain and noise: then what is left of tones is that. */
const SAME_COLOUR_TO = 0.013
const NOISE_WORST_MAX = 0.25
const OTHER_COLOUR_FROM = 0.06

// From here on a painter sees it.
const SEEN = {
  detail: 0.16,
  shape: 0.975,
  inside: 0.92,
  tone: 0.1,
  gain: 0.12,
  strength: 0.08,
  tint: 0.04,
  colour: 0.035,
}
/** Sizes and margins that differ by less are the same. */
const SIZE_STEP = 0.03
const MARGIN_STEP = 0.08

/**
 * Whether a person would call two marks the same, and how the one differs from its original.
 *
 * @param mark, original Laid on grids of one size.
 * @returns Undefined where they are not alike; an empty list where nothing differs.
 */
export function judgePair(mark: Mark, original: Mark): Difference[] | undefined {
  const agreement = compareMarks(original, mark)
  return isAlike(agreement, mark.colour && original.colour ? DIFFERENCE_MAX.colours : DIFFERENCE_MAX.mask)
    ? differencesOf(mark, original, agreement)
    : undefined
}

function isAlike({ shape, inside, worst, ratioOff, tone, toneWorst, colourOff }: Agreement, worstMax: number): boolean {
  const toneMax = colourOff !== undefined && colourOff < OTHER_COLOUR_FROM ? TONE_WORST_MAX.same : TONE_WORST_MAX.other
  return (
    Math.abs(shape) >= SHAPE_FROM &&
    (shape < 0 || inside >= INSIDE_FROM) &&
    worst <= worstMax &&
    ratioOff <= RATIO_OFF_MAX &&
    ((colourOff !== undefined && colourOff <= SAME_COLOUR_TO && toneWorst <= NOISE_WORST_MAX) ||
      ((Math.abs(tone) >= TONE_FROM || toneWorst <= TONE_WORST_NONE) && toneWorst <= toneMax))
  )
}

function differencesOf(mark: Mark, original: Mark, agreement: Agreement): Difference[] {
  const { turn, shape, inside, worst, tone, toneWorst, gain, colourOff = 0 } = agreement
  const isInverted = shape < 0 || tone < 0
  const sizePx = (of: Mark) => Math.round(Math.max(of.widthPx, of.heightPx))
  const amount: [number, number] = [sizePx(mark), sizePx(original)]
  const grown = amount[0] / amount[1]
  const strength = mark.strongest - original.strongest
  const isDetailed =
    worst > SEEN.detail || Math.abs(shape) < SEEN.shape || (shape > 0 && inside < SEEN.inside) || toneWorst > SEEN.tone
  const found: [boolean, Difference][] = [
    [grown < 1 - SIZE_STEP, { kind: 'smaller', amount }],
    [grown > 1 + SIZE_STEP, { kind: 'larger', amount }],
    [Math.abs(marginOf(mark) - marginOf(original)) > MARGIN_STEP, { kind: 'margin' }],
    [turn.mirrored, { kind: 'mirrored' }],
    [turn.quarters > 0, { kind: 'turned', amount: [turn.quarters, 0] }],
    [isInverted, { kind: 'inverted' }],
    [!isInverted && strength < -SEEN.strength, { kind: 'fainter' }],
    [!isInverted && strength > SEEN.strength, { kind: 'stronger' }],
    [!isInverted && Math.abs(mark.faintest - original.faintest) > SEEN.tint, { kind: 'tinted' }],
    [!isInverted && Math.abs(gain - 1) > SEEN.gain, { kind: 'shading' }],
    [!isInverted && colourOff > SEEN.colour, { kind: 'colour' }],
    [isDetailed, { kind: 'detail' }],
  ]
  return found.flatMap(([differs, difference]) => (differs ? [difference] : []))
}

/** How much of the canvas the mark's box leaves free, as a share of its longer side. */
const marginOf = ({ widthPx, heightPx, canvasWidthPx, canvasHeightPx }: Mark) =>
  1 - Math.max(widthPx, heightPx) / Math.max(canvasWidthPx, canvasHeightPx)
