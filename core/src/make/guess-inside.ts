import { guessReading } from '../brush/coverage.ts'
import { layerAlone } from '../raster/compose-layers.ts'
import { layersOf, type Opened } from './opened.ts'
import { type Step, settingsOf, withSettings } from './step-kinds.ts'
import { PLAIN_TONES } from './steps/tones.ts'
import { usualSteps } from './steps.ts'

/** Layers bring their own shape: grey and colour stay, and what is clear is ground. */
export function guessLayerSteps(opened: Opened): Step[] {
  const [first] = layersOf(opened).filter(({ isHidden }) => !isHidden)
  const { width, height } = opened.picture
  const picture = first ? layerAlone(first.layer, width, height) : opened.picture
  const reading = guessReading(picture)
  const isClear = reading === 'own' || reading === 'alpha'
  const plain = withSettings(usualSteps(), 'grey', {
    ...settingsOf(usualSteps(), 'grey'),
    by: isClear ? 'clearness' : 'colour',
  })
  const inked = withSettings(plain, 'tones', { ...PLAIN_TONES, invert: reading === 'light' })
  return withSettings(inked, 'reading', { reading }).map((step) =>
    step.kind === 'even' ? { ...step, on: false } : step,
  )
}

/** Depth is what it is: only turned round, since light paints. */
export function guessModelSteps(): Step[] {
  const steps = withSettings(usualSteps(), 'tones', { ...PLAIN_TONES, invert: true })
  return withSettings(steps, 'reading', { reading: 'light' }).map((step) =>
    step.kind === 'even' || step.kind === 'grey' ? { ...step, on: false } : step,
  )
}
