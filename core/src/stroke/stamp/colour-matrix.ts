import type { ColourShift } from '../../raster/hsv.ts'
import { MATRIX_ONE } from '../kernel/kernel.ts'
import { cosSinDeg } from '../path/trig.ts'

const turn = new Float64Array(2)
const FACTOR_MAX = 32_767

/**
 * A change of colour for tips that bring their own: hue turns about the grey axis, saturation points scale the distance
 * from grey by 1 + s/100, value points add v/100 to all three. Greys keep their drawing, whatever the hue does.
 *
 * @param out 12 integers, Q12: rows of red, green, blue, each with factors of red, green, blue, alpha.
 * @see The turn about (1, 1, 1) is Rodrigues' rotation formula; a turn by 120° swaps the primaries.
 */
export function writeColourMatrix({ hueDeg, saturationPts, valuePts }: ColourShift, out: Int16Array): void {
  cosSinDeg(hueDeg, turn)
  const [cos, sin] = turn
  const colourfulness = Math.max(0, 1 + saturationPts / 100)
  const side = sin / Math.sqrt(3)
  const third = 1 / 3
  for (let row = 0; row < 3; row++) {
    for (let column = 0; column < 3; column++) {
      const step = (column - row + 3) % 3
      // minus the grey part, which stays, times what is left of the colour
      const turned = (step === 0 ? cos : 0) + (1 - cos) * third + (step === 0 ? 0 : step === 1 ? -side : side)
      out[row * 4 + column] = toQ12(third + (turned - third) * colourfulness)
    }
    out[row * 4 + 3] = toQ12(valuePts / 100)
  }
}

const toQ12 = (value: number) => Math.max(-FACTOR_MAX, Math.min(FACTOR_MAX, Math.round(value * MATRIX_ONE)))
