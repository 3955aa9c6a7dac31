import { describe, expect, it } from 'vitest'
import { defaultRecipe, type Recipe } from '../../brush/recipe.ts'
import { createCurve } from '../path/curve.ts'
import { createRandom } from '../path/random.ts'
import { cosSinDeg, directionDeg } from '../path/trig.ts'
import { placeStamps, STAMP, STAMP_STRIDE, STAMPS_MAX, StampPlacer } from './stamps.ts'

const line = (x0: number, y0: number, x1: number, y1: number, pressure = 1) =>
  Float64Array.of(x0, y0, pressure, 0, 0, 0, x1, y1, pressure, 0, 0, 100)

/** A level path with a sample every 5 px. */
const dense = (length: number) =>
  Float64Array.from(Array.from({ length: length / 5 + 1 }, (_, i) => [5 * i, 0, 1, 0, 0, i]).flat())

function column(stamps: Float64Array, field: number): number[] {
  return Array.from({ length: stamps.length / STAMP_STRIDE }, (_, i) => stamps[i * STAMP_STRIDE + field])
}

const square = [{ width: 64, height: 64 }]
const change = (edit: (recipe: Recipe) => void, frames = 1): Recipe => {
  const recipe = defaultRecipe({ sizePx: 64, frames })
  edit(recipe)
  return recipe
}

describe('stamps', () => {
  it('stand 425.7 px apart for a 387 px wide picture at 110 % (common practice, no source)', () => {
    const recipe = change((r) => {
      r.mark.sizePx = 387
      r.path.spacingPct = 110
    })
    const xs = column(placeStamps(recipe, [{ width: 387, height: 200 }], line(0, 0, 3000, 0), 1), STAMP.x)
    for (const [i, x] of xs.entries()) expect(x).toBeCloseTo(425.7 * i, 6)
    expect(xs.length).toBe(8)
  })

  it('count spacing from the drawn width, before turning: a tall tip steps by its narrow side', () => {
    const xs = column(
      placeStamps(
        change((r) => (r.path.spacingPct = 100)),
        [{ width: 32, height: 64 }],
        line(0, 0, 100, 0),
        1,
      ),
      STAMP.x,
    )
    expect(xs).toEqual([0, 32, 64, 96])
  })

  it('keep their distance over the corners of a path', () => {
    const bend = Float64Array.of(0, 0, 1, 0, 0, 0, 10, 0, 1, 0, 0, 1, 10, 30, 1, 0, 0, 2)
    const stamps = placeStamps(
      change((r) => (r.path.spacingPct = 25)),
      square,
      bend,
      1,
    )
    expect(column(stamps, STAMP.x)).toEqual([0, 10, 10])
    expect(column(stamps, STAMP.y)).toEqual([0, 6, 22])
  })

  it('turn with the path where the angle follows, plus the fixed angle', () => {
    const down = placeStamps(
      change((r) => (r.mark.angle = { mode: 'following', deg: 90 })),
      square,
      line(0, 0, 0, 40),
      1,
    )
    expect(column(down, STAMP.cos).at(-1)).toBeCloseTo(-1, 9)
    const fixed = placeStamps(
      change((r) => (r.mark.angle = { mode: 'fixed', deg: 90 })),
      square,
      line(0, 0, 0, 40),
      1,
    )
    expect(column(fixed, STAMP.sin).at(-1)).toBeCloseTo(1, 9)
  })

  it('vary within the stated bounds, evenly: chi-square of 10 bins over 20,000 draws below 27.88', () => {
    // 27.88 is the 0.999 quantile of chi-square with 9 degrees of freedom, from published tables (from memory).
    const recipe = change((r) => {
      r.mark.sizePx = 1
      r.path.spacingPct = 50
      r.variation.size = { from: 0.7, to: 1 }
    })
    const factors = column(placeStamps(recipe, [{ width: 1, height: 1 }], line(0, 0, 10_000, 0), 77), STAMP.scale)
    const bins = new Array(10).fill(0)
    for (const factor of factors) {
      expect(factor >= 0.7 && factor <= 1).toBe(true)
      bins[Math.min(9, Math.floor(((factor - 0.7) / 0.3) * 10))]++
    }
    const wanted = factors.length / 10
    const chi = bins.reduce((sum, n) => sum + (n - wanted) ** 2 / wanted, 0)
    expect(factors.length).toBe(20_001)
    expect(chi).toBeLessThan(27.88)
  })

  it('change only what one variation says: the others keep their draws', () => {
    const plain = change((r) => (r.variation.angle = 0.5))
    const sized = change((r) => Object.assign(r.variation, { angle: 0.5, size: 0.9 }))
    const [a, b] = [plain, sized].map((recipe) => placeStamps(recipe, square, line(0, 0, 500, 0), 3))
    expect(column(a, STAMP.cos)).toEqual(column(b, STAMP.cos))
    expect(column(a, STAMP.scale)).not.toEqual(column(b, STAMP.scale))
  })

  it('pick the next frame in order, by direction, by pressure, at random, and over a grid', () => {
    const four = Array.from({ length: 4 }, () => ({ width: 10, height: 10 }))
    const frames = (rules: Recipe['path']['nextFrame'], path: Float64Array) => {
      const recipe = change((r) => {
        r.mark.sizePx = 10
        r.path.spacingPct = 100
        r.path.nextFrame = rules
      }, 4)
      return column(placeStamps(recipe, four, path, 1), STAMP.frame)
    }
    expect(frames([{ rule: 'inOrder', frames: 4 }], line(0, 0, 50, 0))).toEqual([0, 1, 2, 3, 0, 1])
    expect(frames([{ rule: 'direction', frames: 4 }], line(0, 0, 0, 20))).toEqual([1, 1, 1]) // down is a quarter clockwise
    expect(frames([{ rule: 'direction', frames: 4 }], line(0, 0, -20, 0))).toEqual([2, 2, 2])
    expect(frames([{ rule: 'pressure', frames: 4 }], line(0, 0, 20, 0, 0.6))).toEqual([2, 2, 2])
    expect(new Set(frames([{ rule: 'random', frames: 4 }], line(0, 0, 900, 0)))).toEqual(new Set([0, 1, 2, 3]))
    const grid: Recipe['path']['nextFrame'] = [
      { rule: 'pressure', frames: 2 },
      { rule: 'inOrder', frames: 2 },
    ]
    expect(frames(grid, line(0, 0, 30, 0, 1))).toEqual([2, 3, 2, 3])
    expect(frames(grid, line(0, 0, 30, 0, 0.1))).toEqual([0, 1, 0, 1])
  })

  it('take the frame of the nearest direction: each has the sector around its own, half of it to either side', () => {
    const recipe = defaultRecipe({ sizePx: 10 })
    recipe.path.nextFrame = [{ rule: 'direction', frames: 4 }]
    const frameAt = (deg: number) => {
      const [x, y] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)]
      const path = Float64Array.of(0, 0, 1, 0, 0, 0, 40 * x, 40 * y, 1, 0, 0, 9)
      return placeStamps(
        recipe,
        Array.from({ length: 4 }, () => ({ width: 10, height: 10 })),
        path,
        1,
      )[STAMP.frame]
    }
    const degrees = [0, 44, 46, 134, 136, 224, 226, 314, 316, 359]
    expect(degrees.map(frameAt)).toEqual([0, 0, 1, 1, 2, 2, 3, 3, 0, 0])
  })

  it('follow the curves of the hand to the frame: speed, and tilt on either axis', () => {
    const four = Array.from({ length: 4 }, () => ({ width: 10, height: 10 }))
    const framesOf = (rule: 'speed' | 'tiltX' | 'tiltY', path: Float64Array, curve?: [number, number][]) => {
      const recipe = change((r) => {
        r.mark.sizePx = 10
        r.path.spacingPct = 100
        r.path.nextFrame = [{ rule, frames: 4 }]
        if (curve) r.hand[rule === 'speed' ? 'speed' : 'tilt'] = { frame: curve }
      }, 4)
      return column(placeStamps(recipe, four, path, 1), STAMP.frame)
    }
    const leaning = Float64Array.of(0, 0, 1, 50, -80, 0, 30, 0, 1, 50, -80, 9)
    expect(new Set(framesOf('tiltX', leaning))).toEqual(new Set([3])) // (50 + 90) / 180 is 0.78
    expect(new Set(framesOf('tiltY', leaning))).toEqual(new Set([0])) // (−80 + 90) / 180 is 0.06
    const down: [number, number][] = [[0, 1], [1, 0]] // biome-ignore format: points
    expect(new Set(framesOf('tiltX', leaning, down))).toEqual(new Set([0]))
    const fast = Float64Array.of(0, 0, 1, 0, 0, 0, 30, 0, 1, 0, 0, 10) // 3 px a ms of 4
    expect(framesOf('speed', fast).slice(1)).toEqual([3, 3, 3])
    expect(framesOf('speed', fast, down).slice(1)).toEqual([1, 1, 1])
  })

  it('stay bounded whatever the recipe asks for', () => {
    const recipe = change((r) => {
      r.mark.sizePx = 1
      r.path.spacingPct = 1
      r.path.count = 32
    })
    expect(placeStamps(recipe, square, line(0, 0, 100_000, 0), 1).length).toBe(STAMPS_MAX * STAMP_STRIDE)
  })
})

describe('angles', () => {
  it('lean as the pen does, with an offset, and lie as drawn when it stands upright', () => {
    const leaning = (tiltX: number, tiltY: number) => {
      const recipe = change((r) => (r.mark.angle = { mode: 'tilt', deg: 30 }))
      const stamps = placeStamps(recipe, square, Float64Array.of(5, 5, 1, tiltX, tiltY, 0), 1)
      return directionDeg(stamps[STAMP.cos], stamps[STAMP.sin])
    }
    expect(leaning(40, 0)).toBeCloseTo(30, 6) // to the right
    expect(leaning(0, 40)).toBeCloseTo(120, 6) // towards oneself
    expect(leaning(-35, -35)).toBeCloseTo(255, 6)
    expect(leaning(0, 0)).toBeCloseTo(30, 6)
  })

  it('keep the stroke’s first direction where the recipe says so', () => {
    const recipe = change((r) => (r.mark.angle = { mode: 'first', deg: 0 }))
    const bend = Float64Array.of(0, 0, 1, 0, 0, 0, 0, 40, 1, 0, 0, 1, 60, 40, 1, 0, 0, 2)
    const sines = column(placeStamps(recipe, square, bend, 1), STAMP.sin)
    for (const sine of sines) expect(sine).toBeCloseTo(1, 9)
  })
})

describe('the first stamp', () => {
  const tap = Float64Array.of(5, 5, 1, 0, 0, 0)
  const still = Float64Array.of(...tap, 5, 5, 1, 0, 0, 9)
  const down = Float64Array.of(5, 5, 1, 0, 0, 20, 5, 90, 1, 0, 0, 40)

  it('waits for the stroke’s direction where that tells how it lies, and then lies as the others do', () => {
    for (const mode of ['following', 'first'] as const) {
      const placer = new StampPlacer(
        change((r) => (r.mark.angle = { mode, deg: 0 })),
        square,
        1,
      )
      expect(placer.add(still).length).toBe(0)
      const [first, second] = column(placer.add(down), STAMP.sin)
      expect([first, second]).toEqual([1, 1])
      expect(placer.finish().length).toBe(0)
    }
    const scattered = change((r) => Object.assign(r.path, { scatter: { acrossPct: 200, alongPct: 0 } }))
    const [x, y] = placeStamps(scattered, square, down, 1)
    expect(Math.abs(x - 5)).toBeGreaterThan(1)
    expect(y).toBeCloseTo(5, 9)
  })

  it('of a tap lies as drawn, once, when the pen is lifted', () => {
    const placer = new StampPlacer(
      change((r) => (r.mark.angle = { mode: 'following', deg: 0 })),
      square,
      1,
    )
    placer.add(tap)
    expect(column(placer.finish(), STAMP.cos)).toEqual([1])
    expect(placer.finish().length).toBe(0)
  })

  it('comes at once where no direction is needed', () => {
    expect(new StampPlacer(defaultRecipe({ sizePx: 64 }), square, 1).add(tap).length).toBe(STAMP_STRIDE)
  })
})

describe('taper', () => {
  const tapered = () =>
    change((r) => {
      r.path.taper = { startPx: 100, endPx: 50, size: 0.8, opacity: 0.5 }
      r.path.spacingPct = 10
    })

  it('grows over the start and shrinks over the end, by the shares that it says', () => {
    const stamps = placeStamps(tapered(), square, line(0, 0, 400, 0), 1)
    for (let s = 0; s < stamps.length; s += STAMP_STRIDE) {
      const x = stamps[s]
      const full = Math.min(1, x / 100) * Math.min(1, (400 - x) / 50)
      expect(stamps[s + STAMP.scale]).toBeCloseTo(1 - 0.8 * (1 - full), 9)
      expect(stamps[s + STAMP.alpha]).toBeCloseTo(1 - 0.5 * (1 - full), 9)
    }
  })

  it('holds back only what the end may still change', () => {
    const placer = new StampPlacer(tapered(), square, 1)
    const early = placer.add(dense(400))
    expect(Math.max(...column(early, STAMP.x))).toBeLessThanOrEqual(350)
    expect(Math.max(...column(early, STAMP.x))).toBeGreaterThan(330)
    expect(Math.max(...column(placer.finish(), STAMP.x))).toBeGreaterThan(390)
  })

  it('leaves a tap alone', () => {
    const [scale] = column(placeStamps(tapered(), square, Float64Array.of(5, 5, 1, 0, 0, 0), 1), STAMP.scale)
    expect(scale).toBe(1)
  })
})

describe('random draws', () => {
  it('are even for every variation: chi-square of 20 bins over 20,000 draws below 43.82', () => {
    // 43.82 is the 0.999 quantile of chi-square with 19 degrees of freedom, from published tables (from memory).
    const recipe = change((r) => {
      r.mark.sizePx = 1
      r.path.spacingPct = 50
      Object.assign(r.variation, { hue: { from: 0, to: 1 }, saturation: { from: 0, to: 1 }, value: { from: 0, to: 1 } })
    })
    const stamps = placeStamps(recipe, [{ width: 1, height: 1 }], line(0, 0, 10_000, 0), 77)
    for (const part of [STAMP.hue, STAMP.saturation, STAMP.value, STAMP.grain]) {
      const bins = new Array(20).fill(0)
      for (const draw of column(stamps, part)) bins[Math.min(19, Math.floor(draw * 20))]++
      const wanted = stamps.length / STAMP_STRIDE / 20
      expect(bins.reduce((sum, n) => sum + (n - wanted) ** 2 / wanted, 0)).toBeLessThan(43.82)
    }
  })

  it('have nothing in common for neighbouring seeds: the first draws of 2,000 seeds are even too', () => {
    const bins = new Array(20).fill(0)
    for (let seed = 0; seed < 2000; seed++) bins[Math.floor(createRandom(seed)() * 20)]++
    expect(bins.reduce((sum, n) => sum + (n - 100) ** 2 / 100, 0)).toBeLessThan(43.82)
    let together = 0
    for (let seed = 0; seed < 2000; seed++) together += (createRandom(seed)() - 0.5) * (createRandom(seed + 1)() - 0.5)
    expect(Math.abs(together / 2000 / (1 / 12))).toBeLessThan(0.1) // correlation; 0.1 is 4.5 standard errors
  })
})

describe('the numbers beneath', () => {
  it('agree with the platform sine, cosine and direction', () => {
    const out = new Float64Array(2)
    for (let deg = -720; deg <= 720; deg += 7.3) {
      cosSinDeg(deg, out)
      expect(out[0]).toBeCloseTo(Math.cos((deg * Math.PI) / 180), 10)
      expect(out[1]).toBeCloseTo(Math.sin((deg * Math.PI) / 180), 10)
      const turned = directionDeg(out[0], out[1])
      expect((Math.abs(((turned - deg) % 360) + 360) % 360) % 359.9999999).toBeCloseTo(0, 6)
    }
  })

  it('keep curves numbers, however close their points lie or however little they rise', () => {
    const least = Number.MIN_VALUE
    for (const points of [
      [
        [0, 0],
        [0.5, least],
        [1, 0.2],
      ],
      [
        [0, 0],
        [least, 1],
        [1, 0],
      ],
      [
        [0, 1],
        [1e-300, 0],
        [2e-300, 1],
      ],
    ]) {
      const curve = createCurve(points as [number, number][])
      for (const x of [0, least, 1e-300, 0.25, 0.5, 0.75, 1])
        expect(curve(x) >= 0 && curve(x) <= 1, `${points} at ${x}`).toBe(true)
    }
  })

  it('run curves through their points without overshoot', () => {
    const curve = createCurve([[0, 0], [0.4, 0.1], [0.5, 0.9], [1, 1]]) // biome-ignore format: points
    expect([0, 0.4, 0.5, 1].map(curve)).toEqual([0, 0.1, 0.9, 1])
    for (let x = 0, last = 0; x <= 1; x += 0.01) {
      expect(curve(x)).toBeGreaterThanOrEqual(last - 1e-12)
      last = curve(x)
    }
  })
})
