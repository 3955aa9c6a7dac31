import type { Conflicts } from '@satchel/core/installs/compare-folder'
import { useQuery } from '@tanstack/react-query'
import { Choices } from '../../components/controls.tsx'
import { plural } from '../../components/format.ts'
import { type ConflictAnswer, installsQuery } from '../../data/installs.ts'

const SHOWN = 4

type Props = { conflicts: Conflicts; answer: ConflictAnswer; onAnswer: (answer: ConflictAnswer) => void }

/** What lies in the way of an install, and what is to become of it. */
export function ConflictChoice({ conflicts: { same, other, by }, answer, onAnswer }: Props) {
  const installs = useQuery(installsQuery).data?.installs ?? []
  const whose = new Map(by.map(({ path, install }) => [path, installs.find(({ id }) => id === install)?.name]))
  const words = (path: string) => (whose.get(path) === undefined ? path : `${path}, by "${whose.get(path)}"`)
  return (
    <>
      {same.length > 0 && (
        <p className="text-13 text-quiet">
          {plural(same.length, 'file is', 'files are')} there already, the same in every byte.
        </p>
      )}
      {other.length > 0 && (
        <>
          <p className="text-13 text-amber" role="status">
            {plural(other.length, 'name is', 'names are')} taken by something else:{' '}
            {other.slice(0, SHOWN).map(words).join(', ')}
            {other.length > SHOWN && ` and ${other.length - SHOWN} more`}
          </p>
          <Choices
            label="Where a name is taken"
            value={answer}
            choices={[
              { value: 'both', label: 'keep both, mine under another name' },
              { value: 'replace', label: 'replace, and give it back later' },
              { value: 'skip', label: 'pass the brush over' },
            ]}
            onChange={onAnswer}
          />
        </>
      )}
    </>
  )
}
