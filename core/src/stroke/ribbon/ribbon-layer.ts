import type { Rect } from '../../raster/surface.ts'
import { Q15_ONE } from '../kernel/kernel.ts'
import { nearestScale } from '../level-ladder.ts'
import type { Level, PreparedFrame } from '../levels.ts'
import { type RibbonPoint, visitBand, visitCorner } from './ribbon-segment.ts'

type Options = {
  width: number
  height: number
  strip: PreparedFrame
  /** Canvas px per strip px. */
  scale: number
  /** The repeated part of the strip, px; undefined where nothing repeats. */
  body: { to: number; lengthPx: number } | undefined
}

/** A soft edge is read this far beyond the strip, in canvas or strip px, whichever is wider: sampling fades there. */
const EDGE_PX = 0.5
/** Along the path, in ribbon widths: what lies farther apart is the ribbon crossing itself, not the same bend. */
const CROSSING_WIDTHS = 2
const NOBODY = -1

/**
 * The layer of one ribbon. Each pixel belongs to the nearest point of the path, so a bend neither leaves holes nor covers
 * twice; where the path comes back after a while, the ribbon lies over itself.
 */
export class RibbonLayer {
  readonly data: Int16Array
  readonly #width: number
  readonly #height: number
  readonly #channels: 1 | 4
  readonly #strip: PreparedFrame
  /** What the strip is read from at present. */
  #level: Level
  readonly #scale: number
  readonly #body: Options['body']
  /** What lay here before the present pass, and whose the present pass is: distance along and from the path. */
  readonly #under: Int16Array
  readonly #ownerPx: Float64Array
  readonly #nearPx: Float64Array
  readonly #sample = new Int32Array(4)
  /** While something is laid on trial: for each claim the pixel, its owner, its nearness, then data and under. */
  #trial: number[] | undefined

  constructor({ width, height, strip, scale, body }: Options) {
    this.#width = width
    this.#height = height
    this.#channels = strip.channels
    this.#scale = scale
    this.#body = body
    this.#strip = strip
    this.#level = strip.levelFor(scale, scale)
    this.data = new Int16Array(width * height * strip.channels)
    this.#under = new Int16Array(this.data.length)
    this.#ownerPx = new Float64Array(width * height).fill(NOBODY)
    this.#nearPx = new Float64Array(width * height)
  }

  /** Lays the piece from b to c, and the corner at b where the path comes from a. @returns The area that may have changed. */
  lay(a: RibbonPoint | undefined, b: RibbonPoint, c: RibbonPoint): Rect | undefined {
    const widthPx = b.halfWidthPx + c.halfWidthPx
    const edgePx = EDGE_PX * Math.max(1, widthPx / this.#strip.height)
    const reach = Math.max(b.halfWidthPx, c.halfWidthPx) + edgePx
    const lengthPx = c.distancePx - b.distancePx
    // Where the body starts anew between b and c, the strip goes on by as much as the path.
    const restarts = c.stripPx < b.stripPx
    const stripStep = restarts ? lengthPx / this.#scale : c.stripPx - b.stripPx
    const wrapAt = restarts ? (this.#body?.to ?? Number.POSITIVE_INFINITY) : Number.POSITIVE_INFINITY
    this.#level = this.#levelOf(stripStep > 0 ? lengthPx / stripStep : this.#scale, widthPx)
    visitBand(b, c, reach, { width: this.#width, height: this.#height }, (x, y, along, across) => {
      const halfWidth = b.halfWidthPx + (c.halfWidthPx - b.halfWidthPx) * along
      const stripPx = b.stripPx + stripStep * along
      this.#claim(x, y, {
        distancePx: b.distancePx + lengthPx * along,
        acrossPx: across,
        halfWidth,
        stripPx: stripPx >= wrapAt ? stripPx - (this.#body?.lengthPx ?? 0) : stripPx,
        cover: b.cover + (c.cover - b.cover) * along,
        edgePx,
      })
    })
    if (a) {
      visitCorner(a, b, c, b.halfWidthPx + edgePx, { width: this.#width, height: this.#height }, (x, y, _, across) =>
        this.#claim(x, y, {
          distancePx: b.distancePx,
          acrossPx: across,
          halfWidth: b.halfWidthPx,
          stripPx: b.stripPx,
          cover: b.cover,
          edgePx,
        }),
      )
    }
    return this.#areaAround(b, c, reach)
  }

  /** The strip as it is read where the ribbon has a scale along and a width across. */
  #levelOf(along: number, widthPx: number): Level {
    const stripPx = this.#strip.height
    return this.#strip.levelFor(
      nearestScale(this.#scale, along, stripPx * along),
      nearestScale(this.#scale, widthPx / stripPx, widthPx),
    )
  }

  /** What is laid from now on can be taken back. */
  beginTrial(): void {
    this.#trial = []
  }

  /** Takes back what was laid since `beginTrial`. */
  takeBack(): void {
    const trial = this.#trial ?? []
    this.#trial = undefined
    const stride = 3 + 2 * this.#channels
    for (let i = trial.length - stride; i >= 0; i -= stride) {
      const p = trial[i]
      this.#ownerPx[p] = trial[i + 1]
      this.#nearPx[p] = trial[i + 2]
      for (let c = 0, o = p * this.#channels; c < this.#channels; c++, o++) {
        this.data[o] = trial[i + 3 + 2 * c]
        this.#under[o] = trial[i + 4 + 2 * c]
      }
    }
  }

  #noteTrial(trial: number[], p: number): void {
    trial.push(p, this.#ownerPx[p], this.#nearPx[p])
    for (let c = 0, o = p * this.#channels; c < this.#channels; c++, o++) trial.push(this.data[o], this.#under[o])
  }

  #claim(x: number, y: number, claim: Claim): void {
    const { distancePx, acrossPx, halfWidth, edgePx } = claim
    if (halfWidth <= 0 || Math.abs(acrossPx) > halfWidth + edgePx) return
    const p = y * this.#width + x
    const near = Math.abs(acrossPx)
    const owner = this.#ownerPx[p]
    const crosses = owner !== NOBODY && distancePx - owner > CROSSING_WIDTHS * 2 * halfWidth
    if (owner !== NOBODY && !crosses && near >= this.#nearPx[p]) return
    if (this.#trial) this.#noteTrial(this.#trial, p)
    const o = p * this.#channels
    if (crosses) for (let c = 0; c < this.#channels; c++) this.#under[o + c] = this.data[o + c]
    this.#ownerPx[p] = distancePx
    this.#nearPx[p] = near
    this.#read(claim.stripPx, (acrossPx / halfWidth + 1) / 2)
    const alpha = Math.round(this.#sample[this.#channels - 1] * claim.cover)
    const keep = 1 - alpha / Q15_ONE
    for (let c = 0; c < this.#channels; c++) {
      const paint = Math.round(this.#sample[c] * claim.cover)
      this.data[o + c] = Math.min(Q15_ONE, Math.round(this.#under[o + c] * keep) + paint)
    }
  }

  /** Samples the strip at a length along it, px, and a share 0…1 across it, into `#sample`, Q15. */
  #read(stripPx: number, across: number): void {
    const { data, stride, width, height, perX, perY, originX, originY } = this.#level
    const channels = this.#channels
    const u = Math.min(width + 0.999, Math.max(0, stripPx * perX + originX))
    const v = Math.min(height + 0.999, Math.max(0, across * this.#strip.height * perY + originY))
    const [i, j] = [Math.floor(u), Math.floor(v)]
    const [fx, fy] = [u - i, v - j]
    const at = (j * stride + i) * channels
    for (let c = 0; c < channels; c++) {
      const top = data[at + c] * (1 - fx) + data[at + channels + c] * fx
      const below = at + stride * channels
      const bottom = data[below + c] * (1 - fx) + data[below + channels + c] * fx
      this.#sample[c] = Math.round(((top * (1 - fy) + bottom * fy) * Q15_ONE) / 255)
    }
  }

  #areaAround(b: RibbonPoint, c: RibbonPoint, reach: number): Rect | undefined {
    const area = {
      left: Math.max(0, Math.floor(Math.min(b.x, c.x) - reach)),
      top: Math.max(0, Math.floor(Math.min(b.y, c.y) - reach)),
      right: Math.min(this.#width, Math.ceil(Math.max(b.x, c.x) + reach)),
      bottom: Math.min(this.#height, Math.ceil(Math.max(b.y, c.y) + reach)),
    }
    return area.left < area.right && area.top < area.bottom ? area : undefined
  }
}

type Claim = {
  distancePx: number
  acrossPx: number
  halfWidth: number
  stripPx: number
  cover: number
  edgePx: number
}
