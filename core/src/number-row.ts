import * as v from 'valibot'

/** A number that is set by hand: what its control is called, and from where to where that goes. */
export type NumberRow = {
  label: string
  unit: 'px' | 'px²' | '%' | '°' | 'γ' | ''
  /** From where to where its control goes, as the settings count. */
  from: number
  to: number
  /** What a file may say beyond its control. */
  least?: number
  most?: number
  /** What one of it is told as: 100 where it is a share; 1 by default. */
  per?: 1 | 100
  /** The least step of what is told; 1 by default. */
  step?: number
  whole?: true
  /** Small values matter more. */
  eased?: true
}
/** One that has a value where nobody has set it. */
export type SettingRow = NumberRow & { usual: number }

export type Rows = Readonly<Record<string, SettingRow>>

/** A row for a share, told in hundredths. */
export const shareRow = (label: string, row: Partial<SettingRow> = {}): SettingRow => ({
  label,
  unit: '%',
  from: 0,
  to: 1,
  per: 100,
  usual: 1,
  ...row,
})

/** What may stand where such a number is stored. */
export const numberIn = ({ from, to, least = from, most = to }: NumberRow) =>
  v.pipe(v.number(), v.minValue(least), v.maxValue(most))
/** What may stand where it is a whole one. */
export const wholeIn = ({ from, to, least = from, most = to }: NumberRow & { whole: true }) =>
  v.pipe(v.number(), v.integer(), v.minValue(least), v.maxValue(most))

/** What all numbers of a table are where nobody has set them. */
export const usualOf = <Name extends string>(rows: Readonly<Record<Name, SettingRow>>): Record<Name, number> =>
  Object.fromEntries(Object.entries<SettingRow>(rows).map(([name, { usual }]) => [name, usual])) as Record<Name, number>

/** Told no finer than a tenth, or than it can be set. */
const TOLD_STEP = 0.1

/** How a number is told: in its unit, rounded. */
export function toTold(value: number, { per = 1, step = TOLD_STEP }: NumberRow): number {
  const finest = Math.min(step, TOLD_STEP)
  return Number((Math.round((value * per) / finest) * finest).toFixed(4))
}

/** The number that is meant by what is told: within the bounds of its control. */
export function fromTold(told: number, { from, to, per = 1, whole }: NumberRow): number {
  const value = Math.min(to, Math.max(from, told / per))
  return whole ? Math.round(value) : value
}

/** One of the words of a table. */
export const picklistOf = <Name extends string>(words: Readonly<Record<Name, string>>) =>
  v.picklist(Object.keys(words) as Name[])
