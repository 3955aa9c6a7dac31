import { Area, AreaChart, ResponsiveContainer, YAxis } from 'recharts'

/** How high each of many levels is, 0 to 1, side by side over the whole width. */
export default function LevelsChart({ heights }: { heights: readonly number[] }) {
  return (
    <ResponsiveContainer width="100%" height="100%">
      <AreaChart
        data={heights.map((height) => ({ height }))}
        margin={{ top: 2, right: 0, bottom: 0, left: 0 }}
        accessibilityLayer={false}
      >
        <YAxis hide domain={[0, 1]} />
        <Area dataKey="height" type="linear" isAnimationActive={false} stroke="none" fill="#8a8a8a" fillOpacity={1} />
      </AreaChart>
    </ResponsiveContainer>
  )
}
