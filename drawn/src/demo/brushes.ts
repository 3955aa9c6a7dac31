import type { DrawnBrush } from '../tuning.ts'
import { boatBrushes } from './boat-brushes.ts'
import { recipeBrushes } from './recipe-brushes.ts'
import { shoreBrushes } from './shore-brushes.ts'

/** The demo library of Tidewrack Studio: drawn by the code beside this, in the order of the sets. */
export const demoBrushes = (): DrawnBrush[] => [...shoreBrushes(), ...boatBrushes(), ...recipeBrushes()]
