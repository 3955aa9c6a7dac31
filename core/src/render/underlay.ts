import type { Recipe } from '../brush/recipe.ts'
import type { Surface } from '../raster/surface.ts'

const BAR_PX = 7
const BAR_GREY = 96

/**
 * Lays upright bars on a picture, in place, for brushes that need something to work on: without it what erases or smears
 * would leave no trace. Brushes that paint get none.
 */
export function layUnder({ width, height, data }: Surface, behaviour: Recipe['colour']['behaviour']): void {
  if (behaviour === 'paint') return
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      if (Math.floor(x / BAR_PX) % 2 === 1) continue
      data[i] = BAR_GREY
      data[i + 1] = BAR_GREY
      data[i + 2] = BAR_GREY
      data[i + 3] = 255
    }
  }
}
