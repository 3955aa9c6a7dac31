import { expect, it } from 'vitest'
import { frameGrids } from './frame-grids.ts'

it('are all ways to lay frames in full rows, with at least two rows and two columns', () => {
  expect(frameGrids(12)).toEqual([[2, 6], [3, 4], [4, 3], [6, 2]]) // biome-ignore format: grids
  for (let frames = 1; frames <= 64; frames++) {
    const grids = frameGrids(frames)
    expect(grids.every(([rows, columns]) => rows * columns === frames && rows > 1 && columns > 1)).toBe(true)
    expect(grids.length).toBe([...Array(frames).keys()].filter((n) => n > 1 && frames % n === 0).length)
  }
})
