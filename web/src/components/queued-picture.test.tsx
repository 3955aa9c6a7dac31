// @vitest-environment jsdom
import { fireEvent, render } from '@testing-library/react'
import { expect, test } from 'vitest'
import { QueuedPicture } from './queued-picture.tsx'

const names = (from: number, to: number) => Array.from({ length: to - from }, (_, n) => `/${from + n}.png`)
const List = ({ of }: { of: string[] }) => (
  <>
    {of.map((src) => (
      <QueuedPicture key={src} src={src} />
    ))}
  </>
)
const fetchedIn = (container: HTMLElement) =>
  [...container.querySelectorAll('img')].map((image) => image.getAttribute('src')).filter((src) => src !== null)

test('three are fetched at once; each that came, or failed, makes room for the next', () => {
  const { container, unmount } = render(<List of={names(0, 6)} />)
  expect(fetchedIn(container)).toEqual(names(0, 3))
  const [first, second] = container.querySelectorAll('img')
  if (!first || !second) throw new Error('no pictures')
  fireEvent.load(first)
  expect(fetchedIn(container)).toEqual(names(0, 4))
  fireEvent.error(second)
  expect(fetchedIn(container)).toEqual(names(0, 5))
  unmount()
})

test('what leaves the page is fetched no more, and others begin in its place', () => {
  const { container, rerender, unmount } = render(<List of={names(10, 16)} />)
  const [first] = container.querySelectorAll('img')
  Object.defineProperty(first, 'complete', { value: false })
  rerender(<List of={names(20, 22)} />)
  expect(first?.getAttribute('src')).toBeNull()
  expect(fetchedIn(container)).toEqual(names(20, 22))
  unmount()
})

test('one that becomes another picture stays until the new one has its turn', () => {
  const { container, rerender, unmount } = render(<QueuedPicture src="/a.png" />)
  const image = container.querySelector('img')
  if (!image) throw new Error('no picture')
  fireEvent.load(image)
  rerender(<QueuedPicture src="/b.png" />)
  expect(fetchedIn(container)).toEqual(['/b.png'])
  unmount()
})
