import { type ComponentType, lazy } from 'react'

/** A chart is beside the point of its page: where its code does not come, the page stays, and its place says so. */
export function fetched<Props>(load: () => Promise<{ default: ComponentType<Props> }>) {
  return lazy(() => load().catch((): { default: ComponentType<Props> } => ({ default: Missing })))
}

const Missing = () => <p className="p-2 text-12 text-quiet">This chart did not come; reload the page to see it.</p>

/** Charts, fetched when one is first shown. */
export const CurveChart = fetched(() => import('./curve-chart.tsx'))
export const LevelsChart = fetched(() => import('./levels-chart.tsx'))
