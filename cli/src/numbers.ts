import { UsageError } from './problems.ts'

/** A number of the command line. @throws {UsageError} If it is none, or out of bounds; both bounds are included. */
export function numberOf(option: string, text: string, from: number, to: number): number {
  const value = text.trim() === '' ? Number.NaN : Number(text)
  if (!(value >= from && value <= to)) throw new UsageError(`--${option} takes ${from} to ${to}, not "${text}".`)
  return value
}
