import { readFileSync } from 'node:fs'
import { chromium } from '@playwright/test'
import { CHROMIUM } from '../chromium.mjs'
import type { BenchOptions } from './options.ts'
import { atMost, ms, type Row } from './rows.ts'
import type { StrokeTimes } from './strokes-page.ts'

const FRAME_MS = 16
const GAUGE_MS = 120

/** Stamps and strokes in the browser that people paint in. */
export async function strokeRows({ strokesPage, blit }: BenchOptions): Promise<Row[]> {
  const browser = await chromium.launch(CHROMIUM)
  try {
    const tab = await browser.newPage()
    await tab.addScriptTag({ content: readFileSync(strokesPage, 'utf8') })
    const times = await tab.evaluate(
      (bytes) => (globalThis as unknown as { runStrokes: (blit: number[]) => StrokeTimes }).runStrokes(bytes),
      [...readFileSync(blit)],
    )
    const rate = (perSecond: number) => `${Math.round(perSecond).toLocaleString('en')} stamps/s`
    const { simd, plain, canvas, blits, colour, shaped, liveMs, gaugeMs } = times
    return [
      atMost(
        'rotated, scaled 8-bit stamps (tip 256 px) in Chromium: time of SIMD against drawImage',
        rate(simd),
        rate(canvas),
        canvas / simd,
        0.33,
      ),
      atMost('the same against an unrotated SIMD blit of as many pixels', rate(simd), rate(blits), blits / simd, 5),
      atMost(
        'the readable twin against drawImage (told for comparison)',
        rate(plain),
        rate(canvas),
        canvas / plain,
        Number.POSITIVE_INFINITY,
      ),
      atMost(
        'colour stamps with variation and grain against plain colour stamps',
        rate(shaped),
        rate(colour),
        colour / shaped,
        3,
      ),
      atMost(
        'a free stroke of a 512 px animated colour tip at 10 % spacing: p95 of a frame against 16 ms',
        ms(liveMs),
        ms(FRAME_MS),
        liveMs / FRAME_MS,
        1,
      ),
      atMost(
        'all gauge strokes of a brush (tip 512 px) against 120 ms',
        ms(gaugeMs),
        ms(GAUGE_MS),
        gaugeMs / GAUGE_MS,
        1,
      ),
    ]
  } finally {
    await browser.close()
  }
}
