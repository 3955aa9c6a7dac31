import { Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { CURVE_HEIGHT_PX, CURVE_MARGIN, CURVE_Y_AXIS_PX } from './curve-places.ts'

type Point = { x: number; y: number }
type Props = {
  points: readonly Point[]
  /** Which point is marked. */
  at: number
  /** What the axis to the top goes from and to; the one to the right goes by ratios, as far as there are points. */
  y: { from: number; to: number }
  sayX: (x: number) => string
  sayY: (y: number) => string
}

const TICK = { fill: 'var(--quiet)', fontSize: 11 }

/** A curve through points; what is touched of it is told by whoever shows it. */
export default function CurveChart({ points, at, y, sayX, sayY }: Props) {
  const ends = [...new Set([points[0], points[points.length - 1]].flatMap((point) => (point ? [point.x] : [])))]
  return (
    <ResponsiveContainer width="100%" height={CURVE_HEIGHT_PX}>
      <LineChart data={[...points]} margin={CURVE_MARGIN} accessibilityLayer={false}>
        <XAxis
          dataKey="x"
          type="number"
          scale="log"
          domain={['dataMin', 'dataMax']}
          ticks={ends}
          tickFormatter={sayX}
          tick={TICK}
          tickLine={false}
          axisLine={false}
          height={22}
        />
        <YAxis
          domain={[y.from, y.to]}
          ticks={[y.from, y.to]}
          tickFormatter={sayY}
          tick={TICK}
          tickLine={false}
          axisLine={false}
          width={CURVE_Y_AXIS_PX}
        />
        <Line
          dataKey="y"
          isAnimationActive={false}
          stroke="var(--saddle)"
          strokeWidth={2}
          dot={({ key, cx, cy, index }) => (
            <circle
              key={key}
              cx={cx}
              cy={cy}
              r={index === at ? 7 : 3.5}
              className={index === at ? 'fill-saddle stroke-raised' : 'fill-raised stroke-saddle'}
              strokeWidth={2}
            />
          )}
        />
      </LineChart>
    </ResponsiveContainer>
  )
}
