import type { Pixels } from '@satchel/core/raster/pixels'
import { clamp, createTileNoise } from '../ink.ts'

const SIDE = 256

/** A grey tile from a function of place, 0 dark … 1 light; it repeats if the function does over the side. */
function tile(grey: (x: number, y: number) => number): Pixels {
  const data = Uint8Array.from({ length: SIDE * SIDE }, (_, i) =>
    Math.round(255 * clamp(grey((i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5))),
  )
  return { width: SIDE, height: SIDE, channels: 1, data }
}

const turns = (x: number, count: number) => (2 * Math.PI * count * x) / SIDE

/** The demo's grains by name; each repeats without a seam, since all its waves and noises divide the tile. */
export function demoGrains(): Map<string, Pixels> {
  const fine = createTileNoise(301, 2, SIDE)
  const middle = createTileNoise(302, 8, SIDE)
  const broad = createTileNoise(303, 32, SIDE)
  return new Map([
    ['Wet sand', tile((x, y) => 0.15 + 0.75 * fine(x, y) + 0.35 * (middle(x, y) - 0.5))],
    ['Sand ripples', tile((x, y) => 0.55 + 0.4 * Math.sin(turns(y, 9) + 3.5 * broad(x, y)) + 0.2 * (fine(x, y) - 0.5))],
    [
      'Laid paper',
      tile(
        (x, y) => 0.72 + 0.2 * Math.cos(turns(y, 32)) + 0.12 * Math.cos(turns(x, 4)) ** 8 + 0.25 * (fine(x, y) - 0.5),
      ),
    ],
    [
      'Sailcloth',
      tile((x, y) => 0.5 + 0.32 * Math.cos(turns(x, 32) + 1) * Math.cos(turns(y, 32) + 1) + 0.3 * (fine(x, y) - 0.5)),
    ],
    ['Salt dots', tile((x, y) => 1.5 - Math.hypot((x % 16) - 8, (y % 16) - 8) / 5)],
    ['Tide wash', tile((x, y) => 0.1 + 0.7 * broad(x, y) + 0.35 * middle(x, y) + 0.15 * (fine(x, y) - 0.5))],
  ])
}
