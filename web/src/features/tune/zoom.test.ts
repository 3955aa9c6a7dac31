import { expect, it } from 'vitest'
import { canvasSize, holdInside, stepZoom, WHOLE_VIEW, zoomAt } from './zoom.ts'

const frame = { width: 800, height: 600 }

it('steps in and out, and stays at the last step', () => {
  expect([stepZoom(1, 1), stepZoom(1, -1), stepZoom(8, 1), stepZoom(0.25, -1), stepZoom(3, 1)]).toEqual([
    2, 0.5, 8, 0.25, 4,
  ])
})

it('keeps the place under the pointer where it is', () => {
  const at = { x: 500, y: 200 }
  const view = zoomAt(WHOLE_VIEW, 4, at, frame)
  expect([(at.x - view.x) / view.zoom, (at.y - view.y) / view.zoom]).toEqual([500, 200])
})

it('keeps the frame filled: no pan beyond the canvas', () => {
  expect(holdInside({ zoom: 2, x: 50, y: -5000 }, frame)).toEqual({ zoom: 2, x: 0, y: -600 })
  expect(canvasSize(frame, 0.5)).toEqual({ width: 1600, height: 1200 })
  expect(canvasSize(frame, 4)).toEqual(frame)
  expect(holdInside({ zoom: 0.5, x: -90, y: 9 }, frame)).toEqual({ zoom: 0.5, x: 0, y: 0 })
})
