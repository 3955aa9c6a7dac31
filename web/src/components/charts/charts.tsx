import { fetched } from '../fetched.tsx'

/** Charts, fetched when one is first shown. */
export const CurveChart = fetched(() => import('./curve-chart.tsx'))
export const LevelsChart = fetched(() => import('./levels-chart.tsx'))
