import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
/** Within the page itself, which holds no frames, and naming nothing but what is wrong: half the time. */
const axe = (page: Page, runOnly: { type: 'tag' | 'rule'; values: string[] }) =>
  new AxeBuilder({ page })
    .setLegacyMode()
    .options({ runOnly, resultTypes: ['violations'] })
    .analyze()

/** Up to this height a page is shown whole; longer ones are lists that draw only what is seen. */
const WHOLE_PX = 2400

/**
 * The window grows to the page, so that nothing lies half under the strip at the foot: what can be
 * scrolled free there is no small target, and axe doesn't scroll.
 */
export async function showWhole(page: Page, seen: { width: number; height: number }): Promise<void> {
  await page.setViewportSize(seen)
  const height = await page.evaluate(() => document.documentElement.scrollHeight)
  if (height > seen.height && height <= WHOLE_PX) await page.setViewportSize({ ...seen, height })
}

/** What axe finds in light, and in dark what of it can differ: the contrasts. */
export async function seriousProblems(page: Page): Promise<string[]> {
  await page.emulateMedia({ colorScheme: 'light' })
  const light = await axe(page, { type: 'tag', values: TAGS })
  await page.emulateMedia({ colorScheme: 'dark' })
  const dark = await axe(page, { type: 'rule', values: ['color-contrast'] })
  return [...light.violations, ...dark.violations]
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(
      ({ id, nodes }) =>
        `${id}: ${nodes.map((node) => `${node.html.slice(0, 120)} ${node.failureSummary}`).join(' | ')}`,
    )
}
