import type { Pixels } from '@satchel/core/raster/pixels'
import { createDraw, createNoise, Ink } from './ink.ts'

const [WIDTH, HEIGHT] = [512, 128]
const STRANDS = 8 // over the repeated part, a whole number of them

/** Rope of slanted strands; it is whipped at both ends, and the part between repeats. */
export function ropeRibbon(): { pixels: Pixels; leadInPx: number; leadOutPx: number } {
  const lead = 96
  const pitch = (WIDTH - 2 * lead) / STRANDS
  const ink = new Ink(WIDTH, HEIGHT).fill((x, y) => {
    const side = Math.abs(y - HEIGHT / 2) / (HEIGHT / 2)
    if (side > 0.78) return 0
    const slant = (((x - lead + (y - HEIGHT / 2) * 0.7) % pitch) + pitch) % pitch
    const strand = Math.abs(slant / pitch - 0.5) * 2
    const whipped = x < lead * 0.55 || x > WIDTH - lead * 0.55
    const shade = whipped ? 0.55 + 0.45 * Math.abs(Math.sin(x / 4)) : 1 - strand ** 4
    const end = Math.min(1, x / 6, (WIDTH - x) / 6)
    return shade * (1 - side ** 6) * end
  })
  return { pixels: ink.toPaper(), leadInPx: lead, leadOutPx: lead }
}

/** A blade of kelp from holdfast to tip, laid once along the whole stroke. */
export function kelpRibbon(): Pixels {
  const noise = createNoise(311, 22)
  const draw = createDraw(312)
  const veins = Array.from({ length: 9 }, () => 0.15 + 0.7 * draw())
  return new Ink(WIDTH, HEIGHT)
    .fill((x, y) => {
      const t = x / WIDTH
      const half = (t < 0.08 ? 0.12 + t * 4 : 0.44 * (1 - (t - 0.08) ** 3)) * HEIGHT * (0.9 + 0.2 * noise(x, 40))
      const off = Math.abs(y - HEIGHT / 2)
      const vein = veins.some((at) => Math.abs(y / HEIGHT - at + 0.06 * Math.sin(x / 40)) < 0.012) ? 0.72 : 1
      const midrib = off < 4 ? 1 : 0.82
      return Math.min(1, Math.max(0, (half - off) / 3)) * vein * midrib * (0.75 + 0.25 * noise(x * 2, y * 2))
    })
    .toMask()
}
