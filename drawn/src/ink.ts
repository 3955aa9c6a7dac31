import type { Pixels } from '@satchel/core/raster/pixels'
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'

/** Seeded numbers in [0, 1). */
export type Draw = () => number

export function createDraw(seed: number): Draw {
  const generator = xoroshiro128plus(seed)
  return () => uniformFloat64(generator)
}

/** Paint on a square or oblong field: coverage 0…1, drawn by code only. */
export class Ink {
  readonly cover: Float32Array

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.cover = new Float32Array(width * height)
  }

  /** Sets the highest of what is there and what `paint` gives, everywhere. */
  fill(paint: (x: number, y: number) => number): this {
    for (let y = 0, i = 0; y < this.height; y++) {
      for (let x = 0; x < this.width; x++, i++)
        this.cover[i] = Math.max(this.cover[i] ?? 0, clamp(paint(x + 0.5, y + 0.5)))
    }
    return this
  }

  /** Multiplies what is there: for texture and wear. */
  wear(keep: (x: number, y: number) => number): this {
    for (let y = 0, i = 0; y < this.height; y++) {
      for (let x = 0; x < this.width; x++, i++) this.cover[i] = (this.cover[i] ?? 0) * clamp(keep(x + 0.5, y + 0.5))
    }
    return this
  }

  /** A round dab with a soft rim; `soft` is the share of the radius that fades. */
  dab(x: number, y: number, radius: number, { soft = 0.3, alpha = 1 } = {}): this {
    const fade = Math.max(1, radius * soft)
    for (let py = Math.max(0, Math.floor(y - radius - 1)); py < Math.min(this.height, y + radius + 1); py++) {
      for (let px = Math.max(0, Math.floor(x - radius - 1)); px < Math.min(this.width, x + radius + 1); px++) {
        const distance = Math.hypot(px + 0.5 - x, py + 0.5 - y)
        const i = py * this.width + px
        this.cover[i] = Math.max(this.cover[i] ?? 0, alpha * clamp((radius - distance) / fade))
      }
    }
    return this
  }

  /** A line along a path; `radius` and `alpha` may change from its start (0) to its end (1). */
  line(
    path: (t: number) => [number, number],
    {
      radius,
      alpha = () => 1,
      soft = 0.4,
      steps = 160,
    }: { radius: (t: number) => number; alpha?: (t: number) => number; soft?: number; steps?: number },
  ): this {
    for (let k = 0; k <= steps; k++) {
      const t = k / steps
      const [x, y] = path(t)
      this.dab(x, y, Math.max(0.5, radius(t)), { soft, alpha: alpha(t) })
    }
    return this
  }

  /** Grey as a light-paints mask. */
  toMask(): Pixels {
    return {
      width: this.width,
      height: this.height,
      channels: 1,
      data: Uint8Array.from(this.cover, (value) => Math.round(255 * value)),
    }
  }

  /** Black on white paper: dark paints. */
  toPaper(): Pixels {
    const mask = this.toMask()
    return { ...mask, data: mask.data.map((value) => 255 - value) }
  }

  /** RGBA with a colour from place to place: own colours, or alpha when the colour does not matter. */
  toColour(colour: (x: number, y: number) => [number, number, number]): Pixels {
    const data = new Uint8Array(this.width * this.height * 4)
    for (let i = 0; i < this.cover.length; i++) {
      const [r, g, b] = colour(i % this.width, Math.floor(i / this.width))
      data.set([r, g, b, Math.round(255 * (this.cover[i] ?? 0))], i * 4)
    }
    return { width: this.width, height: this.height, channels: 4, data }
  }
}

export const clamp = (value: number): number => Math.min(1, Math.max(0, value))

/** Smooth noise in [0, 1] with features about `scale` px across. */
export const createNoise = (seed: number, scale: number) => createGridNoise(seed, scale, 64)

/** Smooth noise in [0, 1] that repeats every `periodPx`, which `scale` must divide. */
export const createTileNoise = (seed: number, scale: number, periodPx: number) =>
  createGridNoise(seed, scale, periodPx / scale)

function createGridNoise(seed: number, scale: number, side: number): (x: number, y: number) => number {
  const draw = createDraw(seed)
  const grid = Float32Array.from({ length: side * side }, draw)
  const at = (x: number, y: number) => grid[(((y % side) + side) % side) * side + (((x % side) + side) % side)] ?? 0
  const ease = (t: number) => t * t * (3 - 2 * t)
  return (x, y) => {
    const [gx, gy] = [x / scale, y / scale]
    const [ix, iy] = [Math.floor(gx), Math.floor(gy)]
    const [fx, fy] = [ease(gx - ix), ease(gy - iy)]
    const top = at(ix, iy) + (at(ix + 1, iy) - at(ix, iy)) * fx
    const bottom = at(ix, iy + 1) + (at(ix + 1, iy + 1) - at(ix, iy + 1)) * fx
    return top + (bottom - top) * fy
  }
}
