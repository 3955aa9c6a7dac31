import { Bar, BarChart, CartesianGrid, Legend, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'

/** Colours of what is told apart, in order; the table beside it says the same in words. */
const FILLS = ['var(--slate)', 'var(--saddle)', 'var(--moss)', 'var(--amber)', 'var(--madder)', 'var(--quiet)']

type Props = {
  /** What the picture shows, for those who cannot see it. */
  label: string
  keys: readonly string[]
  rows: readonly { called: string; counts: Readonly<Record<string, number>> }[]
}

/** Counts as bars, what is told apart one above another. */
export function CountChart({ label, keys, rows }: Props) {
  const data = rows.map(({ called, counts }) => ({ called, ...counts }))
  return (
    <div
      role="img"
      aria-label={`${label}; the table beside it has the numbers.`}
      className="h-64 rounded-10 border border-line bg-surface p-3"
    >
      <ResponsiveContainer width="100%" height="100%">
        <BarChart data={data} accessibilityLayer={false} margin={{ top: 6, right: 6, bottom: 0, left: -18 }}>
          <CartesianGrid vertical={false} stroke="var(--line)" />
          <XAxis dataKey="called" stroke="var(--quiet)" fontSize={12} tickLine={false} minTickGap={16} />
          <YAxis allowDecimals={false} stroke="var(--quiet)" fontSize={12} tickLine={false} />
          <Tooltip
            cursor={{ fill: 'var(--line)', fillOpacity: 0.4 }}
            contentStyle={{ background: 'var(--raised)', borderColor: 'var(--line)', color: 'var(--ink)' }}
          />
          {keys.length > 1 && <Legend wrapperStyle={{ fontSize: 13 }} />}
          {keys.map((key, i) => (
            <Bar
              key={key}
              dataKey={(row: Record<string, number>) => row[key] ?? 0}
              name={key}
              stackId="all"
              maxBarSize={48}
              isAnimationActive={false}
              fill={FILLS[i % FILLS.length] ?? 'var(--slate)'}
              // a line between those that lie upon one another, since colours alone tell not everybody
              stroke="var(--surface)"
            />
          ))}
        </BarChart>
      </ResponsiveContainer>
    </div>
  )
}
