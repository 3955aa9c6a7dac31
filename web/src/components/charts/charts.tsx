import { lazy } from 'react'

/** Charts, fetched when one is first shown. */
export const CurveChart = lazy(() => import('./curve-chart.tsx'))
export const LevelsChart = lazy(() => import('./levels-chart.tsx'))
