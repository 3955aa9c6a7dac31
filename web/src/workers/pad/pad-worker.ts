import type { Recipe } from '@satchel/core/brush/recipe'
import type { Rgb } from '@satchel/core/raster/srgb'
import { answerAll } from '../port.ts'
import { BrushInHand } from '../stroke/brush-in-hand.ts'
import { PadPainting } from './pad-painting.ts'
import type { PadQuestions, PadTold } from './pad-protocol.ts'

/** Brushes that are kept ready; the one that was not held for longest goes first. */
const BRUSHES_MAX = 12

const brushes = new Map<string, { brush: BrushInHand; recipe: Recipe }>()
let held: { id: string; colour: Rgb } | undefined
let sheet: PadPainting | undefined

const tell = answerAll<PadQuestions, PadTold>(self, {
  sheet(size) {
    sheet = new PadPainting(size, (part) => tell({ type: 'part', ...part }, [part.data.buffer]))
    sheet.showAll()
    tellSteps()
  },
  bring({ id, recipe, frames, grain }) {
    const brush = new BrushInHand()
    brush.setFrames(frames)
    brush.setGrain(grain)
    brushes.set(id, { brush, recipe })
    const [oldest] = brushes.keys()
    if (brushes.size > BRUSHES_MAX && oldest !== undefined && oldest !== held?.id) brushes.delete(oldest)
  },
  hold(wish) {
    const known = brushes.get(wish.id)
    if (!known) return false
    held = wish
    // prepared before the first stroke asks for it, and moved to the end of the line
    known.brush.prepare(known.recipe, wish.colour)
    brushes.delete(wish.id)
    brushes.set(wish.id, known)
    return true
  },
  begin({ seed }) {
    const known = held && brushes.get(held.id)
    if (!held || !known) return
    const { brush, recipe } = known
    sheet?.begin({ prepared: brush.prepare(recipe, held.colour), recipe, colour: held.colour, seed })
  },
  more: ({ samples }) => sheet?.more(samples),
  end: () => changed(() => sheet?.end()),
  drop: () => sheet?.drop(),
  clear: () => changed(() => sheet?.clear()),
  takeBack: () => changed(() => sheet?.takeBack()),
  doAgain: () => changed(() => sheet?.doAgain()),
})

function changed(change: () => void): void {
  change()
  tellSteps()
}

const tellSteps = () => tell({ type: 'steps', ...(sheet?.steps ?? { back: 0, again: 0 }) })
