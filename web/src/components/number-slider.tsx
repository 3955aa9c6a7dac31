import { fromTold, type NumberRow, type SettingRow, toTold } from '@satchel/core/number-row'
import { Slider } from './controls.tsx'

type Props = {
  /** What it is called, its unit and its bounds stand in core. */
  row: NumberRow & { usual?: number }
  value: number
  /** What it is where nobody has set it, where its row does not say so. */
  usual?: number
  /** What it is called here, where that is another word than usual. */
  label?: string | undefined
  idle?: string | undefined
  onChange: (value: number) => void
}

/** A number that is set by hand, by its row. */
export function NumberSlider({ row, value, usual = row.usual ?? row.from, label = row.label, idle, onChange }: Props) {
  const { unit, from, to, step = 1, eased = false } = row
  return (
    <Slider
      {...{ label, unit, step, eased, idle }}
      min={toTold(from, row)}
      max={toTold(to, row)}
      value={toTold(value, row)}
      usual={toTold(usual, row)}
      onChange={(told) => onChange(fromTold(told, row))}
    />
  )
}

type SettingProps<Name extends string, Settings> = {
  rows: Readonly<Record<Name, SettingRow>>
  name: Name
  of: Settings
  label?: string | undefined
  idle?: string | undefined
  onChange: (settings: Settings) => void
}

/** One number of some settings. */
export function SettingSlider<Name extends string, Settings extends Readonly<Record<Name, number>>>({
  rows,
  name,
  of,
  onChange,
  ...rest
}: SettingProps<Name, Settings>) {
  return (
    <NumberSlider
      row={rows[name]}
      value={of[name]}
      onChange={(value) => onChange({ ...of, [name]: value })}
      {...rest}
    />
  )
}
