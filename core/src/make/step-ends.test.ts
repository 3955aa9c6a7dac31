import * as v from 'valibot'
import { describe, expect, it } from 'vitest'
import { LimitError } from '../errors.ts'
import { PICTURE_PIXELS_MAX } from '../limits.ts'
import { atEnds } from '../testing.ts'
import { STEP_KINDS, type StepKind, type StepName } from './step-kinds.ts'
import { leaf, takePhoto } from './testing.ts'
import { startWork } from './work.ts'

const { picture } = takePhoto({
  width: 420,
  height: 310,
  shape: leaf(210, 150, 240, 30),
  noise: 4,
  paint: [20, 40, 30],
  ground: [230, 225, 220],
})
const path = [10, 10, 200, 150, 30, 40]
/** Settings that use what the usual ones leave out. */
const MORE: { [Name in StepName]?: readonly unknown[] } = {
  crop: [{ ...STEP_KINDS.crop.usual, lasso: [0, 0, 300, 0, 300, 300] }],
  grey: [{ ...STEP_KINDS.grey.usual, touches: [{ x: 10, y: 10, becomes: 'paint' }] }],
  touch: [
    {
      strokes: [
        { does: 'keep', radiusPx: 10, soft: 0.5, path },
        { does: 'drop', radiusPx: 10, soft: 0.5, path },
      ],
    },
  ],
  size: [
    { fit: 'side', sidePx: 100 },
    { fit: 'canvas', width: 100, height: 100 },
  ],
}

describe('each number of a step, at either end of what it may be', () => {
  it.each(Object.entries(STEP_KINDS) as unknown as [StepName, StepKind<unknown>][])(
    'makes no more pixels of %s than are taken, or is refused',
    (name, { schema, usual, run }) => {
      const work = startWork(picture)
      let tried = 0
      for (const settings of [usual, ...(MORE[name] ?? [])])
        for (const { where, value } of atEnds(schema, settings)) {
          if (!v.is(schema, value)) continue
          tried++
          try {
            const { width, height } = run(work, value, { grey: work, needsColour: true })
            expect(width * height, where).toBeLessThanOrEqual(PICTURE_PIXELS_MAX)
          } catch (error) {
            expect(error, where).toBeInstanceOf(LimitError)
          }
        }
      expect(tried > 0 || name === 'reading').toBe(true)
    },
  )
})
