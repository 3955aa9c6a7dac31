/** One line of the table: what was measured, both sides as text, their ratio and what was wanted of it. */
export type Row = { what: string; ours: string; reference: string; ratio: number; wanted: string; met: boolean }

export const ms = (value: number) => `${value < 10 ? value.toFixed(2) : value.toFixed(0)} ms`

export const atMost = (what: string, ours: string, reference: string, ratio: number, limit: number): Row => ({
  what,
  ours,
  reference,
  ratio,
  wanted: `≤ ${limit}`,
  met: ratio <= limit,
})

export const atLeast = (what: string, ours: string, reference: string, ratio: number, limit: number): Row => ({
  what,
  ours,
  reference,
  ratio,
  wanted: `≥ ${limit}`,
  met: ratio >= limit,
})
