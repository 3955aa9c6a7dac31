import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
/** Within the page itself, which holds no frames, and naming nothing but what is wrong: half the time. */
const axe = (page: Page, runOnly: { type: 'tag' | 'rule'; values: string[] }) =>
  new AxeBuilder({ page })
    .setLegacyMode()
    .options({ runOnly, resultTypes: ['violations'] })
    .analyze()

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
