import { SET_MARK_NAMES, SET_MARKS, SET_NOTE_MAX_CHARS, type SetMark } from '@satchel/core/forms/set-marks'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { TextArea } from '../../../components/field.tsx'
import { updateSet } from '../../../data/library.ts'
import { useLibraryChange } from '../use-library-change.ts'
import { SetMarkIcon } from './set-mark.tsx'

type Props = { set: { id: string; name: string; note: string; mark: SetMark | '' }; onClose: () => void }

/** What the curator wants to remember of a set, and the mark by which it is told from others. */
export default function AboutSet({ set, onClose }: Props) {
  const [note, setNote] = useState(set.note)
  const [mark, setMark] = useState(set.mark)
  const change = useLibraryChange()
  return (
    <Dialog open onOpenChange={(open) => !open && onClose()} title={`About ${set.name}`}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void change(() => updateSet(set.id, { note, mark })).then((isSaved) => isSaved && onClose())
        }}
      >
        <TextArea
          label="Note"
          hint="Stands above the set in Sort; nobody else gets it."
          rows={4}
          maxLength={SET_NOTE_MAX_CHARS}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        <fieldset>
          <legend className="mb-1 text-13 font-medium">Mark on its label</legend>
          <div className="flex flex-wrap gap-1">
            {(['', ...SET_MARK_NAMES] as const).map((name) => (
              <label
                key={name}
                title={name === '' ? 'none' : SET_MARKS[name]}
                className={`grid h-9 w-9 cursor-pointer place-items-center rounded-4 border has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-slate ${name === mark ? 'border-saddle bg-raised' : 'border-line hover:bg-raised'}`}
              >
                <input
                  type="radio"
                  name="mark"
                  aria-label={name === '' ? 'none' : SET_MARKS[name]}
                  checked={name === mark}
                  onChange={() => setMark(name)}
                  className="sr-only"
                />
                <SetMarkIcon mark={name} />
              </label>
            ))}
          </div>
        </fieldset>
        <div className="flex justify-end gap-2">
          <Button type="button" kind="quiet" onClick={onClose}>
            Leave it
          </Button>
          <Button type="submit" kind="primary">
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
