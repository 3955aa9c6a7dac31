import type { Recipe } from '@satchel/core/brush/recipe'
import { spreadStamps } from '@satchel/core/brush/starting-points'
import { useMemo, useState } from 'react'
import { INK } from '../../../components/colour-choice.tsx'
import type { BackdropName, Look } from '../../../workers/stroke/protocol.ts'

/** How the strokes are looked at: nothing of it belongs to the brush. */
export function useLook(recipe: Recipe, before: Recipe | undefined, startSplit: boolean) {
  const [backdrop, setBackdrop] = useState<BackdropName>('paper')
  const [colour, setColour] = useState(INK)
  const [isSpread, setSpread] = useState(false)
  const [isSplit, setSplit] = useState(startSplit)
  const [isHeld, setHeld] = useState(false)
  const [splitAt, setSplitAt] = useState(0.5)
  const shown = useMemo(() => (isSpread ? spreadStamps(recipe) : recipe), [recipe, isSpread])
  const shownBefore = useMemo(() => (before && isSpread ? spreadStamps(before) : before), [before, isSpread])
  const look: Look = {
    recipe: shown,
    before: shownBefore,
    show: isHeld ? 'before' : isSplit ? 'split' : 'after',
    splitAt,
    colour,
    backdrop,
    strokes: 'gauge',
  }
  return { look, setBackdrop, setColour, isSpread, setSpread, isSplit, setSplit, setHeld, setSplitAt }
}
