/** Two ways of doing the same work, measured in turns so that a busy machine slows both alike. */
export type Ratio = { ours: number; reference: number; ratio: number }

const sorted = (values: readonly number[]) => [...values].sort((a, b) => a - b)

export const median = (values: readonly number[]): number => sorted(values)[Math.floor(values.length / 2)] ?? Number.NaN
export const percentile = (values: readonly number[], share: number): number =>
  sorted(values)[Math.min(values.length - 1, Math.floor(values.length * share))] ?? Number.NaN

async function timeMs(work: () => unknown): Promise<number> {
  const start = performance.now()
  await work()
  return performance.now() - start
}

/** Medians of interleaved rounds, after one of each to warm up; times in ms. */
export async function compare(ours: () => unknown, reference: () => unknown, rounds = 9): Promise<Ratio> {
  await ours()
  await reference()
  const times: { ours: number[]; reference: number[] } = { ours: [], reference: [] }
  for (let n = 0; n < rounds; n++) {
    times.ours.push(await timeMs(ours))
    times.reference.push(await timeMs(reference))
  }
  const [a, b] = [median(times.ours), median(times.reference)]
  return { ours: a, reference: b, ratio: a / b }
}
