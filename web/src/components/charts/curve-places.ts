/** Where a curve's points lie, known before the chart's code is there: what is touched is found by it. */
export const CURVE_HEIGHT_PX = 170
export const CURVE_MARGIN = { top: 14, right: 16, bottom: 0, left: 0 }
export const CURVE_Y_AXIS_PX = 52

/** The place of each of some numbers along a chart so wide, px; they lie by their ratios. */
export function placesAcross(values: readonly number[], widthPx: number): number[] {
  const logs = values.map(Math.log)
  const [least, most] = [Math.min(...logs), Math.max(...logs)]
  const room = widthPx - CURVE_Y_AXIS_PX - CURVE_MARGIN.left - CURVE_MARGIN.right
  return logs.map((log) => CURVE_MARGIN.left + CURVE_Y_AXIS_PX + (room * (log - least)) / Math.max(1e-9, most - least))
}

/** Which of them lies nearest to a place. */
export function nearestAcross(values: readonly number[], widthPx: number, x: number): number {
  const away = placesAcross(values, widthPx).map((place) => Math.abs(place - x))
  return away.indexOf(Math.min(...away))
}
