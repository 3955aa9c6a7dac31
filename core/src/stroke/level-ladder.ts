/**
 * Steps per octave for marks up to a size in px. At the edges of small marks a step moves the tip by a small part of a
 * pixel; levels of large marks cost more to make, and there a step is seen less.
 */
const STEPS = [
  { upToPx: 16, perOctave: 16 },
  { upToPx: 32, perOctave: 32 },
  { upToPx: 64, perOctave: 64 },
  { upToPx: 128, perOctave: 128 },
  { upToPx: 256, perOctave: 64 },
  { upToPx: Number.POSITIVE_INFINITY, perOctave: 16 },
]
const FINEST = Math.max(...STEPS.map(({ perOctave }) => perOctave))

/** 2^(i / FINEST) for a whole octave, by square roots: the same to the last bit everywhere, which powers are not. */
const ROOTS = (() => {
  const roots = Float64Array.from({ length: FINEST + 1 }, () => 1)
  let root = 2
  for (let bit = FINEST; bit >= 1; bit /= 2, root = Math.sqrt(root))
    for (let i = 0; i <= FINEST; i++) if (i & bit) roots[i] *= root
  return roots
})()

/** No mark shrunk further can be seen, whatever its full size; and ratios may vanish altogether. */
const RATIO_MIN = 1 / (1 << 24)

/**
 * The scales that a stroke makes levels for: the brush's own one, and steps up and down from it. A mark of full size is
 * so read from a level of exactly its size, and one that grows or shrinks passes through steps too fine to be seen.
 *
 * @param own The scale of a mark of full size. @param scale The scale wanted. @param sizePx The mark's size at it.
 * @returns The nearest scale of the ladder.
 */
export function nearestScale(own: number, scale: number, sizePx: number): number {
  if (scale === own || !(scale > 0 && own > 0 && scale / own < Number.POSITIVE_INFINITY)) return own
  let ratio = Math.max(RATIO_MIN, scale / own)
  let octave = 1
  for (; ratio >= 2; ratio /= 2) octave *= 2
  for (; ratio < 1; ratio *= 2) octave /= 2
  const every = FINEST / (STEPS.find(({ upToPx }) => sizePx <= upToPx)?.perOctave ?? FINEST)
  let step = 0
  for (let bit = FINEST / 2; bit >= every; bit /= 2) if (ratio >= ROOTS[step + bit]) step += bit
  if (ratio * ratio > ROOTS[step] * ROOTS[step + every]) step += every
  return own * octave * ROOTS[step]
}
