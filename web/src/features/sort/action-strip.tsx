import {
  Copy,
  FolderInput,
  FolderMinus,
  ListChecks,
  Pin,
  RotateCcw,
  Rows3,
  SlidersHorizontal,
  Tag,
  Trash2,
} from 'lucide-react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'

type Props = {
  count: number
  onlyId: string | undefined
  /** The chosen brushes where they are few enough to be compared. */
  comparedIds: readonly string[] | undefined
  inSet: boolean
  inBin: boolean
  actions: {
    copy: () => void
    move: () => void
    tag: () => void
    pin: () => void
    bin: () => void
    bringBack: () => void
    takeOut: () => void
    none: () => void
    all: () => void
  }
}

/** Rises when lines are chosen: what can be done with all of them. */
export function ActionStrip({ count, onlyId, comparedIds, inSet, inBin, actions }: Props) {
  return (
    <section
      aria-label="With the chosen brushes"
      className="mt-3 flex flex-wrap items-center gap-1.5 rounded-10 border border-line bg-raised px-3 py-2 text-13 shadow-lift wide:flex-nowrap [&_a]:px-2 [&_button]:px-2"
    >
      <strong className="mr-1 whitespace-nowrap" role="status">
        {plural(count, 'brush', 'brushes')} chosen
      </strong>
      {inBin ? (
        <Button onClick={actions.bringBack}>
          <RotateCcw size={18} aria-hidden /> Bring back
        </Button>
      ) : (
        <>
          <Button onClick={actions.copy}>
            <Copy size={18} aria-hidden /> Copy to set
          </Button>
          <Button onClick={actions.move}>
            <FolderInput size={18} aria-hidden /> Move to set
          </Button>
          {inSet && (
            <Button onClick={actions.takeOut}>
              <FolderMinus size={18} aria-hidden /> Take out <span className="sr-only">of this set</span>
            </Button>
          )}
          <Button onClick={actions.tag}>
            <Tag size={18} aria-hidden /> Tag
          </Button>
          <Button onClick={actions.pin}>
            <Pin size={18} aria-hidden /> Pin
          </Button>
          {onlyId && (
            <Link to={`/tune/${onlyId}`} className={buttonLook()}>
              <SlidersHorizontal size={18} aria-hidden /> Tune
            </Link>
          )}
          {comparedIds && (
            <Link to={`/compare?ids=${comparedIds.join(',')}`} className={buttonLook()}>
              <Rows3 size={18} aria-hidden /> Compare
            </Link>
          )}
          <Button kind="danger" onClick={actions.bin}>
            <Trash2 size={18} aria-hidden /> Bin
          </Button>
        </>
      )}
      <span className="ml-auto flex shrink-0 gap-1">
        <Button kind="quiet" onClick={actions.all}>
          <ListChecks size={18} aria-hidden /> <span className="sr-only">Choose</span> All shown
        </Button>
        <Button kind="quiet" onClick={actions.none}>
          <span className="sr-only">Choose</span> None
        </Button>
      </span>
    </section>
  )
}
