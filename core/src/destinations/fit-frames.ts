import type { Fitting } from './fit-state.ts'

/** Files that hold several pictures and say how they follow. */
const ANIMATED = ['gih', 'apng', 'satchel'] as const
export const isAnimated = (several: string) => ANIMATED.some((each) => each === several)

/** What of several pictures arrives: all in one brush, a brush each, or the first. @returns Whether each becomes a brush. */
export function fitFrames(fitting: Fitting): boolean {
  const { several, mostFrames } = fitting.destination.files
  const count = fitting.frames.length
  if (count === 1 || fitting.recipe.path.ribbon) return false
  const called = `${count} pictures`
  if (isAnimated(several)) {
    if (count <= mostFrames) return false
    fitting.approximate('frames', called, `only the first ${mostFrames} fit`)
    keepFrames(fitting, mostFrames)
    return false
  }
  if (several === 'layers') {
    fitting.approximate('frames', called, 'each is a layer; which comes next is not said')
    return false
  }
  const way = fitting.choose(
    'frames',
    several === 'oneEach'
      ? [
          { value: 'oneEach', label: 'a brush each' },
          { value: 'first', label: 'the first alone' },
        ]
      : [
          { value: 'first', label: 'the first alone' },
          { value: 'oneEach', label: 'a brush each' },
        ],
  )
  if (way === 'oneEach') {
    fitting.approximate('frames', called, `${count} brushes with a common name`)
    return true
  }
  fitting.leave('frames', `${count - 1} of ${count} pictures`)
  keepFrames(fitting, 1)
  return false
}

function keepFrames(fitting: Fitting, count: number): void {
  fitting.frames = fitting.frames.slice(0, count)
  const [first] = fitting.recipe.path.nextFrame
  fitting.change((recipe) => ({
    ...recipe,
    path: { ...recipe.path, nextFrame: [{ rule: first?.rule ?? 'inOrder', frames: count }] },
  }))
}
