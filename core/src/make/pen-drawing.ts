/** One stroke of a pen: places on a square of side 1, and how hard it was pressed there, one after another. */
export type PenStroke = { points: readonly { x: number; y: number; pressure: number }[]; width: number }

/** The side of the drawing, units. */
const SIDE = 1000
const shown = (value: number) => String(Math.round(value * SIDE * 10) / 10)

/** Strokes as a drawing of lines that can be drawn at any size: black on nothing. */
export function toPenSvg(strokes: readonly PenStroke[]): string {
  const drawn = strokes.map(({ points, width }) => {
    const parts = points.map((to, i) => {
      const from = points[Math.max(0, i - 1)] ?? to
      return `<path d="M${shown(from.x)} ${shown(from.y)}L${shown(to.x)} ${shown(to.y)}" stroke-width="${shown(width * to.pressure)}"/>`
    })
    return `<g>${parts.join('')}</g>`
  })
  const head = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${SIDE} ${SIDE}">`
  return `${head}<g fill="none" stroke="#000" stroke-linecap="round" stroke-linejoin="round">${drawn.join('')}</g></svg>\n`
}
