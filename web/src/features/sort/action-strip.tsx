import {
  Copy,
  Download,
  FolderInput,
  FolderMinus,
  ListChecks,
  PencilLine,
  Pin,
  RotateCcw,
  Rows3,
  ScanSearch,
  SlidersHorizontal,
  Tag,
  Trash2,
} from 'lucide-react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { plural } from '../../components/format.ts'
import { useWrapping } from '../../parcels/wrapping.ts'
import type { ChosenAct } from './choice.ts'

type Props = {
  count: number
  onlyId: string | undefined
  /** The chosen brushes where they are few enough to be compared. */
  comparedIds: readonly string[] | undefined
  inSet: boolean
  inBin: boolean
  act: (name: ChosenAct) => void
  onAll: () => void
  onNone: () => void
}

/** Rises when lines are chosen: what can be done with all of them. */
export function ActionStrip({ count, onlyId, comparedIds, inSet, inBin, act, onAll, onNone }: Props) {
  const wrap = useWrapping((state) => state.wrap)
  return (
    <section
      aria-label="With the chosen brushes"
      className="mt-3 flex flex-wrap items-center gap-1.5 rounded-10 border border-line bg-raised px-3 py-2 text-13 shadow-lift [&_a]:px-2 [&_button]:px-2"
    >
      <strong className="mr-1 whitespace-nowrap" role="status">
        {plural(count, 'brush', 'brushes')} chosen
      </strong>
      {inBin ? (
        <Button onClick={() => act('bringBack')}>
          <RotateCcw size={18} aria-hidden /> Bring back
        </Button>
      ) : (
        <>
          <Button onClick={() => act('copy')}>
            <Copy size={18} aria-hidden /> Copy to set
          </Button>
          <Button onClick={() => act('move')}>
            <FolderInput size={18} aria-hidden /> Move to set
          </Button>
          {inSet && (
            <Button onClick={() => act('takeOut')}>
              <FolderMinus size={18} aria-hidden /> Take out <span className="sr-only">of this set</span>
            </Button>
          )}
          <Button onClick={() => act('tag')}>
            <Tag size={18} aria-hidden /> Tag
          </Button>
          <Button onClick={() => act('change')}>
            <PencilLine size={18} aria-hidden /> Change
          </Button>
          <Button onClick={() => act('pin')}>
            <Pin size={18} aria-hidden /> Pin
          </Button>
          {onlyId && (
            <Link to={`/tune/${onlyId}`} className={buttonLook()}>
              <SlidersHorizontal size={18} aria-hidden /> Tune
            </Link>
          )}
          {onlyId && (
            <Button onClick={() => wrap({ kind: 'brush', brushId: onlyId })}>
              <Download size={18} aria-hidden /> Save <span className="sr-only">this brush</span>
            </Button>
          )}
          {onlyId && (
            <Link to={`/sort/looks-like?brush=${onlyId}`} className={buttonLook()}>
              <ScanSearch size={18} aria-hidden /> Looks like
            </Link>
          )}
          {comparedIds && (
            <Link to={`/compare?ids=${comparedIds.join(',')}`} className={buttonLook()}>
              <Rows3 size={18} aria-hidden /> Compare
            </Link>
          )}
          <Button kind="danger" onClick={() => act('bin')}>
            <Trash2 size={18} aria-hidden /> Bin
          </Button>
        </>
      )}
      <span className="ml-auto flex shrink-0 gap-1">
        <Button kind="quiet" onClick={onAll}>
          <ListChecks size={18} aria-hidden /> <span className="sr-only">Choose</span> All shown
        </Button>
        <Button kind="quiet" onClick={onNone}>
          <span className="sr-only">Choose</span> None
        </Button>
      </span>
    </section>
  )
}
