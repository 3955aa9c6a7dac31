import type { Grey } from '@satchel/core/make/steps/grey'
import type { Tools } from './tools.ts'

/** What a step's controls may use besides its own settings. */
export type PanelContext = {
  tools: Tools
  onTools: (tools: Tools) => void
  /** Takes the touches of colour away, or others in their place; the mixture follows. */
  onTouches: (touches: Grey['touches']) => void
  /** Asks for the tip that touches up. */
  onTip: () => void
  sourceWidth: number
  sourceHeight: number
}
