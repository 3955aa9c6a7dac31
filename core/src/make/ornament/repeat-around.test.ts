import { describe, expect, it } from 'vitest'
import { startWork, type Work } from '../work.ts'
import { type Ornament, repeatAround, USUAL_ORNAMENT } from './repeat-around.ts'

const shape = (at: (x: number, y: number) => boolean, width = 41, height = 60): Work =>
  startWork({
    width,
    height,
    channels: 1,
    data: Uint8Array.from({ length: width * height }, (_, i) => (at(i % width, Math.floor(i / width)) ? 0 : 255)),
  })
/** A quarter of a leaf: wide at the middle of its height, its right side the axis. */
const half = shape((x, y) => 40 - x < 30 * Math.sin((Math.PI * (y + 0.5)) / 60))
const make = (wish: Partial<Ornament>, work = half) => repeatAround(work, { ...USUAL_ORNAMENT, sidePx: 301, ...wish })
const at = ({ width, grey }: Work, x: number, y: number) => grey[Math.floor(y) * width + Math.floor(x)]
const painted = ({ grey }: Work) => grey.reduce((sum, level) => sum + (255 - level) / 255, 0)

describe('an ornament', () => {
  it.each([1, 3, 5, 8, 12])('of %i is the same after a turn from one to the next', (count) => {
    const ornament = make({ count })
    const sector = (2 * Math.PI) / count
    let worst = 0
    for (let y = 20; y < 281; y += 3)
      for (let x = 20; x < 281; x += 3) {
        const [dx, dy] = [x - 150, y - 150]
        const turned = at(
          ornament,
          150.5 + dx * Math.cos(sector) - dy * Math.sin(sector),
          150.5 + dx * Math.sin(sector) + dy * Math.cos(sector),
        )
        // edges fall between pixels
        if (Math.hypot(dx, dy) < 130 && Math.abs(turned - at(ornament, x, y)) > 128) worst++
      }
    expect(worst).toBeLessThan(120)
    expect(painted(ornament)).toBeGreaterThan(300)
  })

  it('of a half that is mirrored is the same from left and right', () => {
    const { width, grey } = make({ count: 1 })
    for (let y = 0; y < width; y += 5)
      for (let x = 0; x < width; x++)
        expect(Math.abs(grey[y * width + x] - grey[y * width + width - 1 - x])).toBeLessThanOrEqual(1)
  })

  it('has as many arms as it should, where the first one is said to point', () => {
    const arms = (startDeg: number) => {
      const ornament = make({ count: 6, startDeg, radius: 0.6 })
      const ring = Array.from({ length: 720 }, (_, k) => {
        const angle = (k / 720) * 2 * Math.PI
        return at(ornament, 150.5 + 95 * Math.sin(angle), 150.5 - 95 * Math.cos(angle)) < 128
      })
      return { count: ring.filter((is, k) => is && !ring.at(k - 1)).length, up: ring[0] }
    }
    expect(arms(0)).toEqual({ count: 6, up: true })
    expect(arms(30)).toEqual({ count: 6, up: false })
  })

  it('lies farther out with a larger radius, and is wider when stretched', () => {
    const middle = (ornament: Work) => at(ornament, 150, 150)
    expect(middle(make({ radius: -0.2 }))).toBe(0)
    expect(middle(make({ radius: 0.5 }))).toBe(255)
    expect(painted(make({ count: 1, stretch: 2, radius: 1 }))).toBeGreaterThan(
      1.5 * painted(make({ count: 1, stretch: 1, radius: 1 })),
    )
  })

  it('of nothing is nothing', () => {
    expect(
      painted(
        make(
          {},
          shape(() => false),
        ),
      ),
    ).toBe(0)
  })
})
