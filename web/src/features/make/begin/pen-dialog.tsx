import { type PenStroke, toPenSvg } from '@satchel/core/make/pen-drawing'
import { Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Slider } from '../../../components/controls.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { PenArea } from '../../../components/pen-area.tsx'
import type { Picture } from '../../../data/sources.ts'

type Props = { onClose: () => void; onPicture: (picture: Picture) => void }

const USUAL_PERCENT = 3

/** Half a shape is drawn by pen; its right edge is where it will be mirrored. */
export function PenDialog({ onClose, onPicture }: Props) {
  const [strokes, setStrokes] = useState<readonly PenStroke[]>([])
  const [percent, setPercent] = useState(USUAL_PERCENT)
  const begin = () => {
    onPicture({ file: new File([toPenSvg(strokes)], 'drawn by pen.svg', { type: 'image/svg+xml' }) })
    onClose()
  }
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Draw by pen"
      description="For an ornament, draw the left half of a shape: what lies furthest to the right touches its mirror image, and up points outward."
      shape="wide"
    >
      <div className="grid gap-4 sm:grid-cols-[minmax(0,1fr)_236px]">
        <PenArea
          strokes={strokes}
          width={percent / 100}
          className="w-[min(100%,56dvh)]"
          onStroke={(stroke) => setStrokes([...strokes, stroke])}
        />
        <div className="grid content-start gap-3">
          <Slider
            label="Pen"
            value={percent}
            usual={USUAL_PERCENT}
            min={0.5}
            max={20}
            step={0.5}
            eased
            unit="%"
            onChange={setPercent}
          />
          <p className="text-13 text-quiet">A pen that feels pressure draws thin and thick.</p>
          <Button disabled={strokes.length === 0} onClick={() => setStrokes(strokes.slice(0, -1))}>
            <Undo2 size={18} aria-hidden /> Take the last stroke away
          </Button>
        </div>
      </div>
      <div className="flex justify-end gap-2">
        <Button kind="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button kind="primary" disabled={strokes.length === 0} onClick={begin}>
          Begin with this drawing
        </Button>
      </div>
    </Dialog>
  )
}
