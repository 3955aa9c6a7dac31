import { RECIPE_PARTS, type RecipePart } from '@satchel/core/brush/parts'
import { FRAME_RULE_WORDS, READING_WORDS } from '@satchel/core/brush/recipe-words'
import { CARRY_ROWS, type Knowledge } from '@satchel/core/destinations/carry-parts'
import type { Destination } from '@satchel/core/destinations/destination'
import { NumberBox } from '../../components/range-slider.tsx'

type Knows = Destination['knows']
type Row = (typeof CARRY_ROWS)[number]

const partOf = ({ group, key }: Row): RecipePart =>
  (RECIPE_PARTS[group] as unknown as Record<string, RecipePart>)[key] as RecipePart
/** Parts whose control says in its own place what it is about. */
const TITLES: Partial<Record<Row['name'], string>> = {
  'colour.reading': 'which pixels paint', 'colour.blend': 'blend', 'colour.behaviour': 'paint, erase, smear', 'mark.angle': 'angle', 'path.ribbon': 'ribbon',
} // biome-ignore format: a table
const titleOf = (row: Row) => `${GROUPS[row.group]}: ${TITLES[row.name] ?? partOf(row).label.toLowerCase()}`
/** Kinds whose names are not words of the interface. */
const KIND_WORDS: Readonly<Record<string, string>> = {
  ...FRAME_RULE_WORDS, own: READING_WORDS.own, tone: 'shaded by tone', first: 'as it began', tilt: 'leaning',
  canvas: 'on the canvas', stroke: 'on the stroke', stamp: 'on the stamp',
} // biome-ignore format: a table
const GROUPS: Record<Row['group'], string> = {
  mark: 'Mark', path: 'Path', variation: 'Varies', hand: 'Hand', ground: 'Ground', colour: 'Colour',
} // biome-ignore format: a table
/** Where nothing is said of a range that is known, it goes from here to there. */
const WHOLE = { from: 0, to: 1000 }

/** Which parts of a recipe an app knows, a row each: yes or no, which kinds of it, or from where to where. */
export function DestinationParts({ knows, onChange }: { knows: Knows; onChange: (knows: Knows) => void }) {
  return (
    <table className="w-full text-13">
      <caption className="sr-only">What it knows of a recipe</caption>
      <tbody>
        {CARRY_ROWS.map((row) => (
          <tr key={row.name} className="border-b border-line align-top">
            <th scope="row" className="py-1.5 pr-3 text-left font-normal">
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={knows[row.name] !== false}
                  onChange={(event) => onChange({ ...knows, [row.name]: event.target.checked })}
                  className="h-5 w-5 shrink-0"
                />
                {titleOf(row)}
              </label>
            </th>
            <td className="py-1.5">
              <Details row={row} said={knows[row.name]} onChange={(said) => onChange({ ...knows, [row.name]: said })} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

type DetailProps = { row: Row; said: Knowledge; onChange: (said: Knowledge) => void }

function Details({ row, said, onChange }: DetailProps) {
  const { asked } = row.row
  if (said === false || asked === 'flag') return null
  if (asked === 'range') {
    const { from, to } = typeof said === 'object' && 'from' in said ? said : WHOLE
    if (said === true)
      return (
        <button type="button" className="text-saddle underline" onClick={() => onChange(WHOLE)}>
          any; set a range
        </button>
      )
    return (
      <span className="flex items-center gap-1">
        <NumberBox
          label={`${titleOf(row)} from`}
          value={from}
          min={0}
          max={to}
          step={0.01}
          onChange={(value) => onChange({ from: value, to })}
        />
        to
        <NumberBox
          label={`${titleOf(row)} to`}
          value={to}
          min={from}
          max={20_000}
          step={0.01}
          onChange={(value) => onChange({ from, to: value })}
        />
        <button type="button" className="ml-2 text-saddle underline" onClick={() => onChange(true)}>
          any
        </button>
      </span>
    )
  }
  const known = Array.isArray(said) ? (said as readonly string[]) : asked
  return (
    <span className="flex flex-wrap gap-x-3 gap-y-1">
      {asked.map((kind) => (
        <label key={kind} className="flex items-center gap-1">
          <input
            type="checkbox"
            checked={known.includes(kind)}
            onChange={(event) =>
              onChange(
                event.target.checked
                  ? asked.filter((each) => each === kind || known.includes(each))
                  : known.filter((each) => each !== kind),
              )
            }
            className="h-4 w-4"
          />
          {KIND_WORDS[kind] ?? kind}
        </label>
      ))}
    </span>
  )
}
