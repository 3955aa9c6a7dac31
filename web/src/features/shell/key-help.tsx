import { Dialog } from '../../components/dialog.tsx'
import { STAGES } from './stages.ts'

const KEYS: readonly (readonly [keys: string, what: string])[] = [
  [`1 to ${STAGES.length}`, 'go to a stage'],
  ['/', 'find brushes'],
  ['Ctrl or ⌘ K', 'list of commands'],
  ['?', 'these keys'],
  ['↑ ↓', 'move along the brush lines'],
  ['x or Space', 'choose a line'],
  ['Shift with ↑ ↓', 'choose on from the last one'],
  ['Ctrl or ⌘ A', 'choose all that the filter shows'],
  ['Esc', 'choose none'],
  ['Enter', 'tune the brush'],
  ['p', 'pin the chosen, or the brush being tuned, to the pocket'],
  ['c', 'copy the chosen to a set'],
  ['m', 'move the chosen to a set'],
  ['t', 'tag the chosen'],
  ['Delete', 'put the chosen into the bin'],
  ['Alt with ↑ ↓', 'larger or smaller (Tune)'],
  ['s', 'spread the stamps apart (Tune)'],
  ['hold b', 'see it as it was before (Tune)'],
  ['Ctrl or ⌘ Z, with Shift', 'undo, redo (Make, Tune)'],
]

export function KeyHelp({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="All keys">
      <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-1.5">
        {KEYS.map(([keys, what]) => (
          <div key={keys} className="contents">
            <dt className="measure text-quiet">{keys}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <p className="text-13 text-quiet">
        To drag by keyboard: Tab to a grip, Space to lift, arrows to move, Space to drop, Esc to leave it.
      </p>
    </Dialog>
  )
}
