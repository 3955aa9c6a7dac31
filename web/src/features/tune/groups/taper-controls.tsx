import { Slider } from '../../../components/controls.tsx'
import { type GroupProps, percent } from './group-props.ts'

type Taper = GroupProps['recipe']['path']['taper']

const LENGTHS = [
  { part: 'startPx', label: 'Taper at the start' },
  { part: 'endPx', label: 'Taper at the end' },
] as const
const SHARES = [
  { part: 'size', label: 'Taper thins by' },
  { part: 'opacity', label: 'Taper pales by' },
] as const
const LENGTH_MAX_PX = 2000

/** How a stroke grows at its start and shrinks at its end: over which lengths, and by how much. */
export function TaperControls({ taper, onChange }: { taper: Taper; onChange: (taper: Taper) => void }) {
  const hasLength = taper.startPx > 0 || taper.endPx > 0
  return (
    <>
      {LENGTHS.map(({ part, label }) => (
        <Slider
          key={part}
          label={label}
          unit="px"
          min={0}
          max={LENGTH_MAX_PX}
          value={taper[part]}
          usual={0}
          eased
          onChange={(px) => onChange({ ...taper, [part]: px })}
        />
      ))}
      {SHARES.map(({ part, label }, i) => (
        <Slider
          key={part}
          label={label}
          unit="%"
          min={0}
          max={100}
          value={percent(taper[part])}
          usual={0}
          idle={hasLength ? undefined : i === 0 ? 'Give the taper a length first.' : ''}
          onChange={(pct) => onChange({ ...taper, [part]: pct / 100 })}
        />
      ))}
    </>
  )
}
