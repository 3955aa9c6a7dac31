import { checkPeople, NOTE_MAX_CHARS, type PersonRow } from '@satchel/core/people/read-people'
import { X } from 'lucide-react'
import { Button } from '../../../components/button.tsx'
import { VirtualList } from '../../../components/virtual-list.tsx'

const LINE_PX = 44
const BOX = 'min-w-0 rounded-4 border border-line bg-raised px-2 py-1 aria-[invalid]:border-madder'

type Props = { people: readonly PersonRow[]; onChange: (people: PersonRow[]) => void }

/** People as they were read, each to be mended in place or left out. */
export function PeopleToAdd({ people, onChange }: Props) {
  const problems = checkPeople(people)
  const set = (at: number, to: Partial<PersonRow>) =>
    onChange(people.map((person, i) => (i === at ? { ...person, ...to } : person)))
  return (
    <VirtualList
      items={people}
      // a line may name several
      keyOf={({ line }, at) => `${line} ${at - people.findIndex((each) => each.line === line)}`}
      linePx={LINE_PX}
      label="People"
      className="max-h-[36vh] rounded-4 border border-line"
      lineClassName="grid grid-cols-[2.5rem_1fr_1fr_1fr_auto] items-center gap-2 px-2 py-1"
    >
      {(person, index) => {
        const problem = problems[index]
        const cell = (what: 'name' | 'email' | 'note', label: string, isWrong: boolean) => (
          <input
            aria-label={`${label}, line ${person.line}`}
            aria-invalid={isWrong || undefined}
            placeholder={label}
            value={person[what]}
            maxLength={what === 'note' ? NOTE_MAX_CHARS : undefined}
            onChange={(event) => set(index, { [what]: event.target.value })}
            className={BOX}
          />
        )
        return (
          <>
            <span className="measure text-quiet">{person.line}</span>
            {cell('name', 'Name', problem?.kind === 'noName' || problem?.kind === 'longName')}
            {cell('email', 'Mail address', problem?.kind === 'badAddress')}
            {cell('note', 'Note', false)}
            <Button
              kind="quiet"
              aria-label={`Leave out line ${person.line}`}
              onClick={() => onChange(people.filter((_person, i) => i !== index))}
            >
              <X size={16} aria-hidden />
            </Button>
            {problem && (
              <p className="col-start-2 col-end-6 text-13 text-madder">{`Line ${person.line} ${problem.says}.`}</p>
            )}
          </>
        )
      }}
    </VirtualList>
  )
}
