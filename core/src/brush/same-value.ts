/** Whether two values of a recipe mean the same, whatever the order of their keys; one that is not set is as one that is not there. */
export function isSameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  const [one, two] = [a, b] as [Record<string, unknown>, Record<string, unknown>]
  for (const key in one) if (!isSameValue(one[key], two[key])) return false
  for (const key in two) if (!(key in one) && two[key] !== undefined) return false
  return true
}
