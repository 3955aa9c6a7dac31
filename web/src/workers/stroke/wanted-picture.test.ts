import { expect, it } from 'vitest'
import { WantedPicture } from './wanted-picture.ts'

it('is shown only once all that is wanted has been posted', () => {
  const picture = new WantedPicture()
  picture.post('look', 'small')
  expect(picture.posted).toBe(picture.wanted)
  picture.want('tip', 'pebble')
  picture.post('look', 'large')
  expect(picture.posted).not.toBe(picture.wanted)
  picture.post('tip', 'pebble')
  expect(picture.posted).toBe(picture.wanted)
})

it('tells any two states apart, whatever order they came in', () => {
  const of = (...parts: [Parameters<WantedPicture['post']>[0], string][]) => {
    const picture = new WantedPicture()
    for (const part of parts) picture.post(...part)
    return picture.posted
  }
  expect(of(['look', 'a'], ['tip', 'b'])).toBe(of(['tip', 'b'], ['look', 'a']))
  expect(of(['look', 'a'], ['tip', 'b'])).not.toBe(of(['look', 'b'], ['tip', 'a']))
})
