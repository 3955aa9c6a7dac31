import { readDunlin } from './dunlin.ts'
import type { Reader } from './found.ts'
import { readPlover } from './plover.ts'
import { readSanderling } from './sanderling.ts'
import { readShearwater } from './shearwater.ts'
import { readTurnstone } from './turnstone.ts'

/** How each stand-in reads its own folder, by nothing but its own rules. */
export const STAND_IN_READERS = {
  dunlin: readDunlin,
  shearwater: readShearwater,
  plover: readPlover,
  turnstone: readTurnstone,
  sanderling: readSanderling,
} as const satisfies Record<string, Reader>
