import { expect, it } from 'vitest'
import { canvasSize, holdInside, pinchView, stepZoom, WHOLE_VIEW, zoomAt } from './zoom.ts'

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

it('two fingers keep what is between them between them, and pan when they only move', () => {
  const from = [
    { x: 300, y: 200 },
    { x: 400, y: 200 },
  ] as const
  const to = [
    { x: 250, y: 260 },
    { x: 550, y: 260 },
  ] as const
  const view = pinchView(WHOLE_VIEW, { from, to }, frame)
  expect(view.zoom).toBeCloseTo(3)
  expect((400 - view.x) / view.zoom).toBeCloseTo(350) // the middle: 350, 200 on the canvas, now at 400, 260
  expect((260 - view.y) / view.zoom).toBeCloseTo(200)
  const moved = [
    { x: 260, y: 170 },
    { x: 360, y: 170 },
  ] as const
  expect(pinchView({ zoom: 2, x: -200, y: -100 }, { from, to: moved }, frame)).toEqual({ zoom: 2, x: -240, y: -130 })
})

it('two fingers zoom in at most 8 times, and out by the steps', () => {
  const near = [
    { x: 400, y: 300 },
    { x: 401, y: 300 },
  ] as const
  const far = [
    { x: 0, y: 300 },
    { x: 800, y: 300 },
  ] as const
  expect(pinchView(WHOLE_VIEW, { from: near, to: far }, frame).zoom).toBe(8)
  expect(pinchView(WHOLE_VIEW, { from: far, to: near }, frame).zoom).toBe(0.25)
})
