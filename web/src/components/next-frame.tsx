import { FRAME_RULES, type Recipe } from '@satchel/core/brush/recipe'
import { FRAME_RULE_WORDS } from '@satchel/core/brush/recipe-words'
import { Choices } from './controls.tsx'
import { frameGrids } from './frame-grids.ts'

const RULES = FRAME_RULES.map((value) => ({ value, label: FRAME_RULE_WORDS[value] }))

type Rules = Recipe['path']['nextFrame']

/** One rule over all frames, or two at once over a grid of them. */
export function NextFrame({
  frames,
  rules,
  onChange,
}: {
  frames: number
  rules: Rules
  onChange: (rules: Rules) => void
}) {
  const [first, second] = rules
  const grids = frameGrids(frames)
  const rule = first?.rule ?? 'inOrder'
  return (
    <>
      <Choices
        label={second ? `Next frame, of ${first?.frames} rows` : 'Next frame'}
        value={rule}
        choices={RULES}
        onChange={(next) =>
          onChange(second ? [{ rule: next, frames: first?.frames ?? 1 }, second] : [{ rule: next, frames }])
        }
      />
      {grids.length > 0 && (
        <label className="flex items-center gap-2 text-13 font-medium">
          Frames lie as
          <select
            value={second ? `${first?.frames}x${second.frames}` : ''}
            onChange={(event) => {
              const [rows, columns] = event.target.value.split('x').map(Number)
              onChange(
                rows && columns
                  ? [
                      { rule, frames: rows },
                      { rule: second?.rule ?? 'random', frames: columns },
                    ]
                  : [{ rule, frames }],
              )
            }}
            className="rounded-4 border border-line bg-raised px-2 py-1"
          >
            <option value="">one row</option>
            {grids.map(([rows, columns]) => (
              <option key={rows} value={`${rows}x${columns}`}>
                {rows} rows of {columns}
              </option>
            ))}
          </select>
        </label>
      )}
      {second && (
        <Choices
          label={`Within a row of ${second.frames}`}
          value={second.rule}
          choices={RULES}
          onChange={(next) =>
            onChange([
              { rule, frames: first?.frames ?? 1 },
              { ...second, rule: next },
            ])
          }
        />
      )}
    </>
  )
}
